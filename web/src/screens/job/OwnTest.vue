<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Instrument, JobView, PointView, SetUpView } from '../../api/client'
import { INSTRUMENT } from '../../words/tests'
import { capital, lower } from '../../words/units'
import type { Own } from './useTarget'

/** A measurement of the mechanic's own: any instrument, any two points, any plug off. */
const props = defineProps<{ job: JobView }>()
const emit = defineEmits<{ measure: [own: Own] }>()

const INSTRUMENTS = (Object.keys(INSTRUMENT) as Instrument[]).map((value) => ({
  value,
  title: INSTRUMENT[value],
}))

const instrument = ref<Instrument>('voltmeter')
const red = ref<string>()
const black = ref(props.job.test_points.find((p) => p.terminal === 'battery.-')?.terminal)
const plugs = ref<string[]>([])
const batteryOff = ref(false)

const plugName = (id: string) => lower(props.job.part_names[id] ?? id)
const points = computed(() =>
  props.job.test_points
    .map((p) => {
      const bared = p.unplugged ? `, ${plugName(p.unplugged)} off` : ''
      return { value: p.terminal, title: `${capital(p.name)}${bared}` }
    })
    .sort((a, b) => a.title.localeCompare(b.title)),
)
const allPlugs = computed(() => {
  const ids = props.job.test_points.flatMap((p) => p.unplugged ?? [])
  return [...new Set(ids)].map((value) => ({ value, title: capital(plugName(value)) }))
})

const point = (terminal: string | undefined) =>
  props.job.test_points.find((p) => p.terminal === terminal)
const apart = computed(() => !!red.value && !!black.value && red.value !== black.value)

/** What must be off to get there, and what was asked to be. */
function setUp(ends: PointView[]): SetUpView[] {
  const off = new Set([...ends.flatMap((p) => p.unplugged ?? []), ...plugs.value])
  const unplugged = [...off].map((connector): SetUpView => {
    return { entry: { kind: 'unplugged', connector }, name: plugName(connector) }
  })
  const battery: SetUpView = { entry: { kind: 'battery-off' }, name: 'battery' }
  return batteryOff.value ? [...unplugged, battery] : unplugged
}

/** What is typed into a field replaces what it held. */
function overwrite(event: FocusEvent) {
  const field = event.target
  if (field instanceof HTMLInputElement) requestAnimationFrame(() => field.select())
}

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
    aria-label="Measure something else"
    @submit.prevent="measure"
    @focusin="overwrite"
  >
    <p><b>Measure something else</b>, the controls as they are set now.</p>
    <v-select v-model="instrument" :items="INSTRUMENTS" label="Instrument" />
    <v-autocomplete v-model="red" :items="points" label="Red" />
    <v-autocomplete v-model="black" :items="points" label="Black" />
    <v-autocomplete
      v-model="plugs"
      :items="allPlugs"
      label="Also unplugged"
      multiple
      chips
      closable-chips
    />
    <div class="row">
      <v-btn :aria-pressed="batteryOff" @click="batteryOff = !batteryOff">Battery clamp off</v-btn>
      <v-btn type="submit" :disabled="!apart">Measure this</v-btn>
    </div>
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
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
