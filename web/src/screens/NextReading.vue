<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Engine, JobView, PointView, SetUpView } from '../api/client'
import { CAUTIONS } from '../words/cautions'
import { SAY } from '../words/say'
import { ENGINE_FIRST, conditionWords } from '../words/tests'
import { capital, list, lower } from '../words/units'
import ProbePoints from './job/test/ProbePoints.vue'

/** What to read now: how the machine stands, what to mind, where the meter goes, what a good one shows; as typed. */
const props = defineProps<{
  job: JobView
  /** Another one is another reading: what was typed goes. */
  of: string
  condition: { [control: string]: string }
  engine: Engine
  /** What the engine turns at, where that is said otherwise. */
  turns?: string
  setUp: SetUpView[]
  cautions: (keyof typeof CAUTIONS)[]
  /** One more thing to mind, in words. */
  mind?: string
  red?: PointView | undefined
  black?: PointView | undefined
  /** The wire that a clamp goes around. */
  around?: string | undefined
  dial: string
  good: string
  label: string
  unit: string
  /** Open leads are an answer. */
  open: boolean
  busy: boolean
  /** Records what was typed; whether it was taken. */
  record: (typed: string) => Promise<boolean>
}>()

const typed = ref('')
watch(
  () => props.of,
  () => (typed.value = ''),
)
const stands = computed(() => conditionWords(props.job.controls, props.condition))
const unplug = computed(() => props.setUp.map((s) => lower(s.name)))
/** Something is off that has to be on for this. */
const inTheWay = computed(() => {
  const wanted = new Set(props.setUp.map((s) => JSON.stringify(s.entry)))
  return props.job.still_off.some((s) => !wanted.has(JSON.stringify(s.entry)))
})
const places = computed(() => {
  const own = [props.red, props.black].flatMap((p) => p?.place_caution ?? [])
  return [...new Set(own)]
})

async function send() {
  if (await props.record(typed.value)) typed.value = ''
}
</script>

<template>
  <form class="next-reading" @submit.prevent="send">
    <p class="set">
      {{ capital(stands) }}.
      <b v-if="unplug.length">{{ SAY.loads.unplug }} {{ list(unplug, 'and') }}. </b>
      <b>{{ turns ?? ENGINE_FIRST[engine] }}</b>
    </p>
    <p v-for="c in cautions" :key="c" class="caution">{{ CAUTIONS[c] }}</p>
    <p v-if="mind" class="caution">{{ mind }}</p>
    <p v-for="c in places" :key="c" class="caution">{{ c }}</p>
    <p v-if="inTheWay" class="trouble">{{ SAY.loads.putBackFirst }}</p>
    <p v-if="around" class="around">
      {{ SAY.loads.clampOn }} <b>{{ around }}</b>
    </p>
    <ProbePoints v-else-if="red && black" :red="red" :black="black" :dial="dial" />
    <slot></slot>
    <p v-if="good" class="good">{{ capital(SAY.loads.goodIs) }} {{ good }}</p>
    <div class="row">
      <v-text-field
        v-model="typed"
        class="reading-typed"
        :label="label"
        :suffix="unit"
        inputmode="decimal"
        autocomplete="off"
        hide-details
      />
      <v-btn v-if="open" height="56" @click="typed = 'OL'">OL</v-btn>
      <v-btn type="submit" class="strong" height="56" :disabled="busy || inTheWay">{{
        SAY.common.record
      }}</v-btn>
    </div>
  </form>
</template>

<style scoped>
.next-reading {
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
