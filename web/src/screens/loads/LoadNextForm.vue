<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { JobView } from '../../api/client'
import ChoiceRow from '../../input/ChoiceRow.vue'
import { CAUTIONS } from '../../words/cautions'
import { amps2 } from '../../words/loads'
import { volts } from '../../words/numbers'
import { SAY } from '../../words/say'
import { DIAL, ENGINE_FIRST, conditionWords } from '../../words/tests'
import { capital, list, lower } from '../../words/units'
import ProbePoints from '../job/test/ProbePoints.vue'
import type { useLoads } from './useLoads'

/** What to read now on one load: how the machine stands, where the meter goes, how warm it is; as typed. */
const props = defineProps<{ job: JobView; loads: ReturnType<typeof useLoads> }>()
const { load, kind, at, clamp, busy } = props.loads

/** Degrees Celsius that a hand tells apart. */
const WARM: [string, number][] = [
  [`${SAY.loads.coldNow}, 70 °F / 20 °C`, 20],
  [`${SAY.loads.warmNow}, 120 °F / 50 °C`, 50],
  [`${SAY.loads.hotNow}, 200 °F / 90 °C`, 90],
]
const typed = ref('')
const celsius = ref(20)
watch(
  () => [load.value?.id, kind.value].join(),
  () => (typed.value = ''),
)
const LABEL = computed(
  () =>
    ({
      ohms: SAY.loads.labelOhms,
      volts: SAY.loads.labelVolts,
      amps: SAY.loads.labelAmps,
      insulation: SAY.loads.labelInsulation,
    })[kind.value ?? 'ohms'],
)
const UNIT = computed(
  () => ({ ohms: 'Ω', volts: 'V', amps: 'A', insulation: 'Ω' })[kind.value ?? 'ohms'],
)
const stands = computed(() => {
  const here = at.value ?? clamp.value
  return here ? conditionWords(props.job.controls, here.condition, here.engine) : ''
})
const unplug = computed(() => at.value?.set_up.map((s) => lower(s.name)) ?? [])
/** Something is off that has to be on for this. */
const inTheWay = computed(() => {
  const wanted = new Set(at.value?.set_up.map((s) => JSON.stringify(s.entry)) ?? [])
  return props.job.still_off.some((s) => !wanted.has(JSON.stringify(s.entry)))
})
const cautions = computed(() => at.value?.cautions ?? clamp.value?.cautions ?? [])
const places = computed(() => {
  const own = [at.value?.red, at.value?.black].flatMap((p) => p?.place_caution ?? [])
  return [...new Set(own)]
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

async function send() {
  if (await props.loads.record(typed.value, celsius.value)) typed.value = ''
}
</script>

<template>
  <form class="load-next" @submit.prevent="send">
    <p class="set">
      {{ capital(stands) }}.
      <b v-if="unplug.length">{{ SAY.loads.unplug }} {{ list(unplug, 'and') }}.</b>
      <b>{{ ENGINE_FIRST[(at ?? clamp)?.engine ?? 'stopped'] }}</b>
    </p>
    <p v-for="c in cautions" :key="c" class="caution">{{ CAUTIONS[c] }}</p>
    <p v-for="c in places" :key="c" class="caution">{{ c }}</p>
    <p v-if="inTheWay" class="trouble">{{ SAY.loads.putBackFirst }}</p>
    <ProbePoints
      v-if="at"
      :red="at.red"
      :black="at.black"
      :dial="kind === 'insulation' ? SAY.loads.frameHelp : DIAL[at.instrument]"
    />
    <p v-else-if="clamp?.clamp" class="around">
      {{ SAY.loads.clampOn }} <b>{{ clamp.clamp.name }}</b>
    </p>
    <template v-if="kind === 'ohms'">
      <p class="quiet">{{ SAY.loads.touchLeads }}</p>
      <ChoiceRow v-model="celsius" :legend="SAY.loads.howWarm" :choices="WARM" />
    </template>
    <p class="good">{{ capital(SAY.loads.goodIs) }} {{ good }}</p>
    <div class="row">
      <v-text-field
        v-model="typed"
        class="load-typed"
        :label="LABEL"
        :suffix="UNIT"
        inputmode="decimal"
        autocomplete="off"
        hide-details
      />
      <v-btn v-if="kind === 'ohms' || kind === 'insulation'" height="56" @click="typed = 'OL'"
        >OL</v-btn
      >
      <v-btn type="submit" class="strong" height="56" :disabled="busy || inTheWay">{{
        SAY.common.record
      }}</v-btn>
    </div>
  </form>
</template>

<style scoped>
.load-next {
  display: grid;
  gap: 14px;
}
p {
  margin: 0;
}
.set,
.around,
.good {
  font-size: 17px;
}
.around b {
  display: block;
  font-size: 21px;
}
.caution {
  padding-left: 12px;
  border-left: 8px solid var(--ochre);
  font-size: 17px;
}
.trouble {
  padding-left: 12px;
  border-left: 8px solid var(--plum);
  font-weight: 600;
}
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-auto-flow: column;
  grid-auto-columns: auto;
  gap: 8px;
}
</style>
