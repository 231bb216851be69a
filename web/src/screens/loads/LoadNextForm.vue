<script setup lang="ts">
import { computed, ref } from 'vue'
import type { JobView } from '../../api/client'
import ChoiceRow from '../../input/ChoiceRow.vue'
import { amps2, type LoadNext } from '../../words/loads'
import { volts } from '../../words/numbers'
import { SAY } from '../../words/say'
import { DIAL } from '../../words/tests'
import NextReading from '../NextReading.vue'
import type { useLoads } from './useLoads'

/** What to read now on one load, and how warm it is. */
const props = defineProps<{ job: JobView; loads: ReturnType<typeof useLoads> }>()
const { load, kind, at, clamp, busy } = props.loads

/** Degrees Celsius that a hand tells apart. */
const WARM: [string, number][] = [
  [`${SAY.loads.coldNow}, 70 °F / 20 °C`, 20],
  [`${SAY.loads.warmNow}, 120 °F / 50 °C`, 50],
  [`${SAY.loads.hotNow}, 200 °F / 90 °C`, 90],
]
const celsius = ref(20)
const LABELS: { [kind in LoadNext]: string } = {
  ohms: SAY.loads.labelOhms,
  volts: SAY.loads.labelVolts,
  amps: SAY.loads.labelAmps,
  insulation: SAY.loads.labelInsulation,
}
const UNITS: { [kind in LoadNext]: string } = { ohms: 'Ω', volts: 'V', amps: 'A', insulation: 'Ω' }
const isOhms = computed(() => kind.value === 'ohms' || kind.value === 'insulation')
const here = computed(() => at.value ?? clamp.value)
const dial = computed(() => {
  if (kind.value === 'insulation') return SAY.loads.frameHelp
  return at.value ? DIAL[at.value.instrument] : ''
})
const good = computed(() => {
  const own = load.value
  if (!own) return ''
  if (kind.value === 'ohms')
    return `${own.low.toFixed(2)} to ${own.high.toFixed(2)} ohm ${SAY.loads.cold}`
  if (kind.value === 'volts' && own.on) return `${volts(own.on.volts)} V`
  if (kind.value === 'amps' && own.on) return `${amps2(own.on.amps)} A`
  return 'OL'
})
</script>

<template>
  <NextReading
    v-if="kind && here"
    :job="job"
    :of="`${load?.id} ${kind}`"
    :condition="here.condition"
    :engine="here.engine"
    :set-up="at?.set_up ?? []"
    :cautions="here.cautions"
    :red="at?.red"
    :black="at?.black"
    :around="clamp?.clamp?.name"
    :dial="dial"
    :good="good"
    :label="LABELS[kind]"
    :unit="UNITS[kind]"
    :open="isOhms"
    :busy="busy"
    :record="(typed) => loads.record(typed, celsius)"
  >
    <template v-if="kind === 'ohms'">
      <p class="quiet">{{ SAY.loads.touchLeads }}</p>
      <ChoiceRow v-model="celsius" :legend="SAY.loads.howWarm" :choices="WARM" />
    </template>
  </NextReading>
</template>

<style scoped>
p {
  margin: 0;
}
</style>
