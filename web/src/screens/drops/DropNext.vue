<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { DropsView, Instrument, PointView } from '../../api/client'
import { SAY } from '../../words/say'
import { DIAL } from '../../words/tests'
import ProbePoints from '../job/test/ProbePoints.vue'

/** What to read now: volts across two points, or amps by a clamp; as typed. */
const props = defineProps<{
  view: DropsView
  red: PointView | undefined
  black: PointView | undefined
  busy: boolean
  record: (instrument: Instrument, ends: [string, string], typed: string) => Promise<boolean>
}>()
const emit = defineEmits<{ done: [] }>()
const volts = ref('')
const amps = ref('')
const wire = ref(0)
watch(
  () => [props.red?.terminal, props.black?.terminal].join(),
  () => (volts.value = ''),
)
const placeCautions = computed(() => {
  const all = [props.red, props.black].flatMap((p) => p?.place_caution ?? [])
  return [...new Set(all)]
})
watch(
  () => props.view.circuit,
  () => (wire.value = 0),
)
const wires = computed(() => props.view.clamps.map((c, i) => ({ title: c.name, value: i })))

async function sendVolts() {
  const { red, black } = props
  if (!red || !black || !volts.value.trim()) return
  if (await props.record('voltmeter', [red.terminal, black.terminal], volts.value)) {
    volts.value = ''
    emit('done')
  }
}
async function sendAmps() {
  const around = props.view.clamps[wire.value]
  if (!around || !amps.value.trim()) return
  if (await props.record('clamp', [around.red, around.black], amps.value)) amps.value = ''
}
</script>

<template>
  <div class="next">
    <form v-if="red && black" class="volts" @submit.prevent="sendVolts">
      <ProbePoints :red="red" :black="black" :dial="DIAL.voltmeter" />
      <p v-for="c in placeCautions" :key="c" class="caution">{{ c }}</p>
      <div class="row">
        <v-text-field
          v-model="volts"
          class="drop-volts"
          :label="SAY.drops.labelVolts"
          suffix="V"
          inputmode="decimal"
          autocomplete="off"
          hide-details
        />
        <v-btn type="submit" class="strong" height="56" :disabled="busy">{{
          SAY.common.record
        }}</v-btn>
      </div>
    </form>
    <form v-if="view.clamps.length" class="amps" @submit.prevent="sendAmps">
      <p>{{ SAY.drops.clampOn }}</p>
      <div class="row">
        <v-select
          v-model="wire"
          class="around"
          :items="wires"
          :label="SAY.drops.ampsOn"
          hide-details
        />
        <v-text-field
          v-model="amps"
          class="clamp-amps"
          :label="SAY.drops.labelClamp"
          suffix="A"
          inputmode="decimal"
          autocomplete="off"
          hide-details
        />
        <v-btn type="submit" height="56" :disabled="busy">{{ SAY.common.record }}</v-btn>
      </div>
    </form>
  </div>
</template>

<style scoped>
.next,
.volts,
.amps {
  display: grid;
  gap: 14px;
}
.caution {
  margin: 0;
  padding-left: 12px;
  border-left: 8px solid var(--ochre);
  font-size: 17px;
}
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 8px;
}
.amps {
  padding-top: 14px;
  border-top: 1px solid var(--rule);
}
.amps .row {
  grid-template-columns: minmax(0, 1.6fr) minmax(0, 1fr) auto;
}
.amps p {
  margin: 0;
  font-size: 16px;
}
@media (max-width: 560px) {
  .amps .row {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .around {
    grid-column: 1 / -1;
  }
}
</style>
