<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import {
  ApiError,
  api,
  type Condition,
  type Engine,
  type ForewarnedView,
  type JobView,
  type Observed,
  type SetUpEntry,
} from '../../../api/client'
import { overwrite } from '../../../input/overwrite'
import { CAUTIONS, DANGERS } from '../../../words/cautions'
import { ampsWords } from '../../../words/setUps'
import { capital } from '../../../words/units'
import { SAY } from '../../../words/say'
import SaidPanel from './SaidPanel.vue'

/** Something taken off, or a jumper put on: what it would do is said first, and it stays in the register. */
const props = defineProps<{
  job: JobView
  condition: Condition
  engine: Engine
  busy: boolean
}>()
const emit = defineEmits<{ said: [observed: Observed]; close: [] }>()

type Kind = 'unplugged' | 'wire-off' | 'jumper' | 'battery-off'
const kind = ref<Kind>('jumper')
const kinds = computed(() => {
  const all: [Kind, string][] = [
    ['jumper', SAY.job.jumperWire],
    ['unplugged', SAY.job.aPlug],
    ['wire-off', SAY.job.oneWire],
  ]
  const battery = props.job.set_ups.some((s) => s.entry.kind === 'battery-off')
  return battery ? [...all, ['battery-off', SAY.job.batteryClamp] as [Kind, string]] : all
})

const connector = ref<string>()
const wire = ref<string>()
const [from, to] = [ref<string>(), ref<string>()]
const fuse = ref<number | null>(15)
const FUSES = [
  { value: 5, title: '5 A' },
  { value: 10, title: '10 A' },
  { value: 15, title: '15 A' },
  { value: 20, title: '20 A' },
  { value: null, title: SAY.job.noFuse },
]

const sorted = (all: { value: string; title: string }[]) =>
  all.sort((a, b) => a.title.localeCompare(b.title))
const plugs = computed(() =>
  sorted(
    props.job.set_ups.flatMap(({ entry, name }) =>
      entry.kind === 'unplugged' ? [{ value: entry.connector, title: capital(name) }] : [],
    ),
  ),
)
const wires = computed(() =>
  sorted(props.job.wires.map((w) => ({ value: w.id, title: capital(w.name) }))),
)
const points = computed(() =>
  sorted(props.job.test_points.map((p) => ({ value: p.terminal, title: capital(p.name) }))),
)

const what = computed<SetUpEntry | undefined>(() => {
  switch (kind.value) {
    case 'unplugged':
      return connector.value ? { kind: 'unplugged', connector: connector.value } : undefined
    case 'wire-off':
      return wire.value ? { kind: 'wire-off', wire: wire.value } : undefined
    case 'battery-off':
      return { kind: 'battery-off' }
    default:
      return from.value && to.value && from.value !== to.value
        ? { kind: 'jumper', from: from.value, to: to.value, fuse: fuse.value }
        : undefined
  }
})

const told = ref<ForewarnedView>()
const refused = ref('')
let latest = 0

/** What it would do with the controls as they stand. */
async function ask() {
  const mine = ++latest
  told.value = undefined
  refused.value = ''
  if (!what.value) return
  const { condition, engine } = props
  try {
    const found = await api.forewarn(props.job.id, { condition, engine, what: what.value })
    if (mine === latest) told.value = found
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    // A server that is away is said elsewhere.
    if (mine === latest && !error.passing) refused.value = error.message
  }
}
watch(
  [what, () => props.condition, () => props.engine, () => props.job.evidence.length],
  () => void ask(),
  { immediate: true },
)

function say() {
  if (!what.value) return
  emit('said', { kind: 'arranged', what: what.value })
  emit('close')
}
</script>

<template>
  <SaidPanel
    class="arrange"
    :aria-label="SAY.job.unplugOrJumper"
    :title="SAY.job.whatDidYouUnplug"
    @close="emit('close')"
    @focusin="overwrite"
  >
    <div role="group" :aria-label="SAY.job.unplugOrJumper" class="line">
      <v-btn
        v-for="[value, title] in kinds"
        :key="value"
        height="52"
        :aria-pressed="kind === value"
        @click="kind = value"
        >{{ title }}</v-btn
      >
    </div>
    <v-autocomplete
      v-if="kind === 'unplugged'"
      v-model="connector"
      :items="plugs"
      :label="SAY.job.plug"
    />
    <v-autocomplete
      v-else-if="kind === 'wire-off'"
      v-model="wire"
      :items="wires"
      :label="SAY.job.wire"
    />
    <template v-else-if="kind === 'jumper'">
      <v-autocomplete v-model="from" :items="points" :label="SAY.job.jumperFrom" />
      <v-autocomplete v-model="to" :items="points" :label="SAY.job.jumperTo" />
      <v-select v-model="fuse" :items="FUSES" :label="SAY.job.jumperFuse" />
    </template>
    <p class="quiet">{{ SAY.job.controlsStayAsSet }}</p>
    <p v-if="refused" class="against" role="alert">{{ refused }}</p>
    <div v-if="told" role="status" class="told">
      <div v-if="told.dangers.length" class="against">
        <p v-for="danger in told.dangers" :key="danger">{{ DANGERS[danger] }}</p>
      </div>
      <p v-for="caution in told.cautions" :key="caution" class="caution">
        {{ CAUTIONS[caution] }}
      </p>
      <p v-if="told.amps != null">{{ ampsWords(told.amps, told.most_amps ?? told.amps) }}</p>
      <p v-if="!told.dangers.length && !told.cautions.length">
        {{ SAY.job.nothingSpeaksAgainstIt }}
      </p>
      <v-btn class="strong" height="56" :disabled="busy" @click="say">{{
        kind === 'jumper' ? SAY.job.itsOn : SAY.job.itsOff
      }}</v-btn>
    </div>
  </SaidPanel>
</template>

<style scoped>
p {
  margin: 0;
  font-size: 17px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.line :deep([aria-pressed='true']) {
  background: var(--ink);
  color: var(--paper);
}
.told {
  display: grid;
  gap: 8px;
}
.against {
  padding: 8px 12px;
  border: 3px double var(--plum);
  border-radius: 8px;
}
</style>
