<script setup lang="ts">
import { computed, ref } from 'vue'
import type { JobView, Observed, Repair, UnitView } from '../../../api/client'
import { REPAIRS } from '../../../words/noticed'
import { capital, unitName } from '../../../words/units'
import { SAY } from '../../../words/say'

/** What was done to put it right: one tap each, several units if need be. */
const props = defineProps<{
  job: JobView
  /** Found, or thought of: they come first. */
  units: UnitView[]
  busy: boolean
  title: string
}>()
const emit = defineEmits<{ repaired: [repairs: Observed[]] }>()

/** Units that were added by hand. */
const added = ref<string[]>([])
const another = ref<string>()
const note = ref('')
/** By unit, what was done. */
const done = ref<{ [unit: string]: Repair[] }>({})

const name = (unit: UnitView) => capital(unitName(unit))
const rows = computed(() => {
  const ids = [...props.units.map((u) => u.id), ...added.value]
  return props.job.repairs.filter((r) => ids.includes(r.unit.id))
})
const others = computed(() =>
  props.job.repairs
    .filter((r) => !rows.value.includes(r))
    .map((r) => ({ value: r.unit.id, title: name(r.unit) }))
    .sort((a, b) => a.title.localeCompare(b.title)),
)

function add(unit: string | null) {
  if (unit) added.value.push(unit)
  another.value = undefined
}

function toggle(unit: string, how: Repair) {
  const now = done.value[unit] ?? []
  done.value[unit] = now.includes(how) ? now.filter((h) => h !== how) : [...now, how]
}

function record() {
  const all = Object.entries(done.value).flatMap(([unit, ways]) =>
    ways.map((how) => ({ unit, how })),
  )
  const repairs = all.map((one, i) => ({
    kind: 'repaired' as const,
    ...one,
    note: i === 0 ? note.value.trim() : '',
  }))
  emit('repaired', repairs)
  done.value = {}
  note.value = ''
}
</script>

<template>
  <section class="repair" :aria-label="SAY.job.repair" tabindex="-1">
    <h2>{{ title }}</h2>
    <div v-for="row in rows" :key="row.unit.id" role="group" :aria-label="name(row.unit)">
      <p>
        <b>{{ name(row.unit) }}</b>
      </p>
      <div class="ways">
        <v-btn
          v-for="how in row.ways"
          :key="how"
          height="52"
          :aria-pressed="!!done[row.unit.id]?.includes(how)"
          @click="toggle(row.unit.id, how)"
          >{{ REPAIRS[how] }}</v-btn
        >
      </div>
    </div>
    <v-autocomplete
      :model-value="another"
      :items="others"
      :label="SAY.job.anotherPartOrWire"
      hide-details
      @update:model-value="add"
    />
    <v-text-field v-model="note" :label="SAY.job.notePartNumberWhatIt" hide-details />
    <v-btn
      class="strong"
      height="60"
      :disabled="busy || !Object.values(done).flat().length"
      @click="record"
      >{{ SAY.job.recordTheRepair }}</v-btn
    >
  </section>
</template>

<style scoped>
.repair {
  display: grid;
  gap: 10px;
  padding: 12px 14px;
  border: 2px solid var(--ink);
  border-radius: 14px;
  background: var(--panel);
}
h2 {
  margin: 0;
  font-size: 16px;
}
p {
  margin: 0 0 4px;
  font-size: 18px;
}
.ways {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(130px, 1fr));
  gap: 8px;
}
.ways :deep(.v-btn__content) {
  white-space: normal;
  line-height: 1.15;
}
.ways :deep([aria-pressed='true']) {
  background: var(--ink);
  color: var(--paper);
}
</style>
