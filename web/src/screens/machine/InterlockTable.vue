<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { exportAddress, type MachineDetail, type Standing, type TableRow } from '../../api/client'
import { SAY } from '../../words/say'

const props = defineProps<{ detail: MachineDetail; standing: Standing; rows: TableRow[] }>()
const emit = defineEmits<{ go: [at: Standing] }>()

/** Control id -> position id that rows must have; "" lets all through. */
const wanted = reactive<{ [control: string]: string }>({})
const does = ref<'' | 'cranks' | 'starts' | 'runs' | 'coupled'>('')
/** More rows than this are shown only when asked for. */
const PAGE = 60
const most = ref(PAGE)

const DOES = [
  { id: 'cranks', title: 'cranks' },
  { id: 'starts', title: 'would start' },
  { id: 'runs', title: 'keeps running' },
  { id: 'coupled', title: 'drives' },
] as const

const found = computed(() =>
  props.rows.filter(
    (row) =>
      (!does.value || row.does[does.value]) &&
      props.detail.controls.every((c, i) => {
        const want = wanted[c.id]
        return !want || c.positions[row.at[i]!]?.id === want
      }),
  ),
)

function setOf(row: TableRow) {
  return Object.fromEntries(
    props.detail.controls.map((c, i) => [c.id, c.positions[row.at[i]!]!.id]),
  )
}
const isNow = (row: TableRow) =>
  props.detail.controls.every((c, i) => c.positions[row.at[i]!]?.id === props.standing.set[c.id])
</script>

<template>
  <details>
    <summary>The whole interlock table, {{ rows.length }} combinations</summary>
    <p class="quiet">
      {{ SAY.machine.filterByAnyColumnPick }}
      <a :href="exportAddress(detail.name, 'table.csv')" download>{{ SAY.machine.saveAsCsv }}</a>
    </p>
    <div class="scroll" tabindex="0" role="group" :aria-label="SAY.machine.interlockTable">
      <table>
        <thead>
          <tr>
            <th v-for="c in detail.controls" :key="c.id">
              <label
                >{{ c.name
                }}<select v-model="wanted[c.id]">
                  <option value="">{{ SAY.machine.any }}</option>
                  <option v-for="p in c.positions" :key="p.id" :value="p.id">{{ p.name }}</option>
                </select></label
              >
            </th>
            <th v-for="d in DOES" :key="d.id" class="does">
              <button
                type="button"
                :aria-pressed="does === d.id"
                @click="does = does === d.id ? '' : d.id"
              >
                {{ d.title }}
              </button>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in found.slice(0, most)" :key="row.at.join()" :class="{ now: isNow(row) }">
            <td v-for="(c, i) in detail.controls" :key="c.id">
              <button
                v-if="i === 0"
                type="button"
                @click="emit('go', { set: setOf(row), engine: standing.engine })"
              >
                {{ c.positions[row.at[i]!]?.name }}
              </button>
              <template v-else>{{ c.positions[row.at[i]!]?.name }}</template>
            </td>
            <td v-for="d in DOES" :key="d.id" class="does" :class="{ yes: row.does[d.id] }">
              {{ row.does[d.id] ? SAY.machine.yes : SAY.machine.no }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="!found.length" class="quiet">{{ SAY.machine.noCombinationMatches }}</p>
    <v-btn v-if="found.length > most" variant="text" @click="most += 500"
      >Show {{ found.length - most }} more</v-btn
    >
  </details>
</template>

<style scoped>
summary {
  min-height: 44px;
  padding: 10px 0;
  font-size: 18px;
  font-weight: 700;
  cursor: pointer;
}
.scroll {
  max-height: 460px;
  overflow: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 16px;
}
thead th {
  position: sticky;
  top: 0;
  padding: 4px 10px 4px 0;
  background: var(--paper);
  text-align: left;
  vertical-align: bottom;
}
label {
  display: grid;
}
select {
  min-height: 44px;
  border: 1px solid var(--dead);
  border-radius: 8px;
  background: var(--panel);
  font-weight: 400;
}
th button {
  min-height: 44px;
  padding: 0 6px;
  border: 1px solid var(--dead);
  border-radius: 8px;
}
th button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
td {
  padding: 2px 10px 2px 0;
  border-top: 1px solid var(--rule);
}
td button {
  min-height: 44px;
  min-width: 44px;
  text-align: left;
  color: var(--slate);
  text-decoration: underline;
}
.does {
  color: var(--quiet);
}
.yes {
  font-weight: 700;
  color: var(--ink);
}
.now td {
  background: var(--well);
}
</style>
