<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import type { BatteryTest, BatteryView, Chemistry, Control } from '../../api/client'
import ChoiceRow from '../../input/ChoiceRow.vue'
import { CHEMISTRY, typedNumber, type Degrees } from '../../words/battery'
import { SAY } from '../../words/say'
import { readingOf } from './readingOf'
import type { Taken } from './taken'

/** The figures of one reading. */
const props = defineProps<{
  taken: Taken
  view: BatteryView
  controls: Control[]
  degrees: Degrees
  busy: boolean
  record: (test: BatteryTest) => Promise<boolean>
  recordCranking: (typed: string) => Promise<boolean>
}>()
const emit = defineEmits<{ degrees: [to: Degrees]; done: [] }>()

const HOURS: [string, number][] = [
  [SAY.battery.justNow, 0.2],
  [SAY.battery.anHour, 1.5],
  [SAY.battery.overnight, 12],
  [SAY.battery.days, 48],
]

const KINDS = Object.entries(CHEMISTRY).map(([code, name]) => [name, code as Chemistry] as const)

const typed = reactive<{ [field: string]: string }>({})
const cells = ref<string[]>([])
const hours = ref(12)
const surfaceOff = ref(false)
const chemistry = ref<Chemistry>('flooded')
const missing = ref('')

interface Field {
  id: string
  label: string
}
const fields = computed<Field[]>(() => {
  const warm = { id: 'warm', label: `${SAY.battery.temperature}, °${props.degrees}` }
  const volts = { id: 'volts', label: SAY.battery.volts }
  const seconds = { id: 'seconds', label: SAY.battery.seconds }
  switch (props.taken) {
    case 'label':
      return [
        { id: 'cold', label: SAY.battery.coldAmps },
        { id: 'ah', label: SAY.battery.ampHours },
      ]
    case 'rest':
      return [volts, warm]
    case 'own-loads':
      return [volts, seconds, warm]
    case 'tester':
      return [volts, { id: 'amps', label: SAY.battery.ampsDrawn }, seconds, warm]
    case 'cranking':
      return [volts]
    case 'recovery':
      return [volts, seconds]
    case 'charged':
      return [
        { id: 'amps', label: SAY.battery.chargerAmps },
        { id: 'hours', label: SAY.battery.hoursOn },
      ]
    case 'drain':
      return [{ id: 'milliamps', label: SAY.battery.milliamps }]
    case 'acid':
      return [{ ...warm }]
  }
  return []
})
const cellCount = computed(() => (props.view.nominal < 9 ? 3 : 6))
/** How the controls stand, each in words. */
const stand = computed(() => {
  const { crank, own_load } = props.view
  const condition = props.taken === 'cranking' ? crank : own_load?.condition
  return props.controls.flatMap((c) => {
    const at = c.positions.find((p) => p.id === condition?.[c.id])
    return at ? [`${c.name}: ${at.name}`] : []
  })
})

watch(
  () => props.taken,
  (taken) => {
    for (const field of Object.keys(typed)) delete typed[field]
    cells.value = Array.from({ length: cellCount.value }, () => '')
    missing.value = ''
    if (taken === 'recovery') typed.seconds = '60'
    if (taken === 'own-loads' || taken === 'tester') typed.seconds = '15'
    if (taken === 'tester') typed.amps = props.view.standing.load_test.amps.toFixed(0)
    if (props.view.standing.celsius_known && taken !== 'acid') {
      const own = props.view.standing.celsius
      typed.warm = (props.degrees === 'F' ? own * 1.8 + 32 : own).toFixed(0)
    }
  },
  { immediate: true },
)

async function send() {
  missing.value = ''
  if (props.busy) return
  const { taken, degrees } = props
  const volts = typed.volts ?? ''
  if (taken === 'cranking') {
    if (typedNumber(volts) === undefined) miss('volts')
    else if (await props.recordCranking(volts)) emit('done')
    return
  }
  const read = readingOf(taken, {
    text: typed,
    cells: cells.value,
    hours: hours.value,
    surfaceOff: surfaceOff.value,
    chemistry: chemistry.value,
    degrees,
    ownAmps: props.view.own_load?.amps ?? 0,
  })
  if ('missing' in read) miss(read.missing)
  else if (await props.record(read.test)) emit('done')
}

function miss(id: string) {
  const field = fields.value.find((f) => f.id === id)
  missing.value =
    id === 'cells' ? SAY.battery.everyCell : `${field?.label ?? id}: ${SAY.battery.aNumber}`
}
</script>

<template>
  <form class="figures" @submit.prevent="send">
    <p v-if="taken === 'own-loads' && view.own_load" class="set">
      {{ SAY.battery.engineOff }}
      <b v-for="s in stand" :key="s" class="chip">{{ s }}</b>
      {{ SAY.battery.thatDraws }} {{ view.own_load.amps.toFixed(1) }} A.
    </p>
    <p v-if="taken === 'cranking'" class="set">
      <b v-for="s in stand" :key="s" class="chip">{{ s }}</b>
    </p>
    <ChoiceRow
      v-if="taken === 'rest'"
      v-model="hours"
      :legend="SAY.battery.since"
      :choices="HOURS"
    />
    <v-checkbox
      v-if="taken === 'rest'"
      v-model="surfaceOff"
      :label="SAY.battery.lampsBefore"
      hide-details
    />
    <div v-if="taken === 'acid'" class="cells">
      <v-text-field
        v-for="(_, i) in cells"
        :key="i"
        v-model="cells[i]"
        :label="`${SAY.battery.cell} ${i + 1}${i === 0 ? ' (+)' : ''}`"
        inputmode="decimal"
        :autofocus="i === 0"
        hide-details
      />
    </div>
    <div class="fields">
      <v-text-field
        v-for="(f, i) in fields"
        :key="f.id"
        v-model="typed[f.id]"
        :class="f.id"
        :label="f.label"
        inputmode="decimal"
        autocomplete="off"
        :autofocus="i === 0 && taken !== 'acid'"
        hide-details
      />
    </div>
    <ChoiceRow
      v-if="taken === 'label'"
      v-model="chemistry"
      :legend="SAY.battery.kind"
      :choices="KINDS"
    />
    <p v-if="missing" class="missing" role="alert">{{ missing }}</p>
    <div class="row">
      <v-btn type="submit" class="strong send" height="56" :disabled="busy">{{
        SAY.common.record
      }}</v-btn>
      <v-btn
        v-if="fields.some((f) => f.id === 'warm')"
        height="48"
        variant="text"
        @click="emit('degrees', degrees === 'F' ? 'C' : 'F')"
        >{{ degrees === 'F' ? SAY.battery.inCelsius : SAY.battery.inFahrenheit }}</v-btn
      >
    </div>
  </form>
</template>

<style scoped>
.figures {
  display: grid;
  gap: 14px;
}
.set {
  margin: 0;
  font-size: 17px;
  line-height: 2;
}
.chip {
  display: inline-block;
  margin-right: 6px;
  padding: 0 10px;
  background: var(--well);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.fields,
.cells {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 10px;
}
.send {
  min-width: 160px;
}
.missing {
  margin: 0;
  color: var(--plum);
  font-weight: 600;
}
</style>
