<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Instrument, JobView, PointView, SetUpEntry, SetUpView } from '../../../api/client'
import { overwrite } from '../../../input/overwrite'
import { INSTRUMENT, setUpTitle } from '../../../words/tests'
import { capital, lower } from '../../../words/units'
import type { Own } from './useTarget'
import { SAY } from '../../../words/say'

/** A measurement of the mechanic's own: any instrument, any two points, anything set up first. */
const props = defineProps<{ job: JobView }>()
const emit = defineEmits<{ measure: [own: Own] }>()

const INSTRUMENTS = (Object.keys(INSTRUMENT) as Instrument[]).map((value) => ({
  value,
  title: INSTRUMENT[value],
}))

const instrument = ref<Instrument>('voltmeter')
const red = ref<string>()
const black = ref(props.job.test_points.find((p) => p.terminal === 'battery.-')?.terminal)
/** By their titles. */
const before = ref<string[]>([])
/** The list folds up after each choice, so that the next touch does what it says. */
const choosing = ref(false)

const plugName = (id: string) => lower(props.job.part_names[id] ?? id)
const points = computed(() =>
  props.job.test_points
    .map((p) => {
      const bared = p.unplugged ? `, ${plugName(p.unplugged)} off` : ''
      return { value: p.terminal, title: `${capital(p.name)}${bared}` }
    })
    .sort((a, b) => a.title.localeCompare(b.title)),
)
const setUps = computed(() => props.job.set_ups.map(setUpTitle))

const point = (terminal: string | undefined) =>
  props.job.test_points.find((p) => p.terminal === terminal)
const apart = computed(() => !!red.value && !!black.value && red.value !== black.value)

/** What must be off to get there, and what was asked to be. */
function setUp(ends: PointView[]): SetUpView[] {
  const bares = (s: SetUpView) =>
    s.entry.kind === 'unplugged' && ends.some((p) => p.unplugged === connector(s.entry))
  const asked = (s: SetUpView) => before.value.includes(setUpTitle(s))
  return props.job.set_ups.filter((s) => bares(s) || asked(s))
}

const connector = (entry: SetUpEntry) => ('connector' in entry ? entry.connector : undefined)

function measure() {
  const ends = [point(red.value), point(black.value)]
  if (!ends[0] || !ends[1] || !apart.value) return
  const [from, to] = [ends[0], ends[1]]
  emit('measure', { instrument: instrument.value, red: from, black: to, setUp: setUp([from, to]) })
}
</script>

<template>
  <form
    class="own"
    :aria-label="SAY.job.measureSomethingElse"
    @submit.prevent="measure"
    @focusin="overwrite"
  >
    <p>
      <b>{{ SAY.job.measureSomethingElse }}</b>, the controls as they are set now.
    </p>
    <v-select v-model="instrument" :items="INSTRUMENTS" :label="SAY.job.instrument" />
    <v-autocomplete v-model="red" :items="points" :label="SAY.common.red" />
    <v-autocomplete v-model="black" :items="points" :label="SAY.common.black" />
    <v-select
      v-model="before"
      v-model:menu="choosing"
      :items="setUps"
      :label="SAY.job.firstPlugOffPlungerBy"
      multiple
      chips
      closable-chips
      class="first"
      @update:model-value="choosing = false"
    />
    <v-btn type="submit" :disabled="!apart">{{ SAY.job.measureThis }}</v-btn>
  </form>
</template>

<style scoped>
.own {
  display: grid;
  gap: 8px;
  padding: 12px 14px;
  border-left: 8px solid var(--slate);
  background: var(--well);
  border-radius: 8px;
}
p {
  margin: 0;
}
.first :deep(.v-chip) {
  font-size: 15px;
}
</style>
