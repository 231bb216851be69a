<script setup lang="ts">
import { computed, ref } from 'vue'
import type { BenchView, CellView } from '../api/client'
import { FUNCTION, pair } from '../words/bench'
import JoinGlyph from './JoinGlyph.vue'
import KeyCell from './KeyCell.vue'
import { SAY } from '../words/say'

/** Pairs down, positions across; in each cell what should be, fine, beside what was found, bold. */
const props = defineProps<{
  view: BenchView
  /** The cell that the probes are on. */
  at: { position: string; one: string; other: string } | undefined
  picks: boolean
}>()
const emit = defineEmits<{ pick: [cell: CellView] }>()

const positions = computed(() => props.view.subject.positions)
const functionOf = computed(() => {
  const { profile, layout } = props.view.subject
  const known = new Map(profile?.terminals.map((t) => [t.id, FUNCTION[t.function]]))
  return (terminal: string) => known.get(layout?.[terminal] ?? terminal) ?? ''
})

const rows = computed(() => {
  const byPair = new Map<string, CellView[]>()
  for (const cell of props.view.cells) {
    const key = pair(cell.one, cell.other)
    byPair.set(key, [...(byPair.get(key) ?? []), cell])
  }
  return [...byPair].map(([name, cells]) => ({
    name,
    what: [functionOf.value(cells[0]?.one ?? ''), functionOf.value(cells[0]?.other ?? '')]
      .filter(Boolean)
      .join(' – '),
    cells,
    joined: cells.some(
      (c) => c.expected === true || c.follows === true || c.found?.kind === 'made',
    ),
  }))
})
const joined = computed(() => rows.value.filter((r) => r.joined))
const apart = computed(() => rows.value.filter((r) => !r.joined))
const known = computed(() => props.view.subject.profile != null)
/** Pairs that no position joins are many; those that are as they should be are folded away. */
const unfolded = ref(false)
const folds = computed(() => known.value && apart.value.length > 3)
const groups = computed(() => {
  const worth = (r: (typeof rows.value)[number]) =>
    r.cells.some((c) => isAt(c) || !['fits', 'found', 'untried'].includes(c.stand))
  const some = folds.value && !unfolded.value ? apart.value.filter(worth) : apart.value
  return [
    { name: known.value ? 'Joined in some position' : 'Found joined', rows: joined.value },
    { name: known.value ? 'Never to be joined' : 'Not found joined', rows: some },
  ].filter((g) => g.rows.length)
})
/** By position, how many of the folded pairs are known to be open. */
const open = computed(() =>
  positions.value.map((p) => {
    const own = apart.value.flatMap((r) => r.cells.filter((c) => c.position === p.id))
    return `${own.filter((c) => c.stand === 'fits').length} of ${own.length} open`
  }),
)

function isAt(c: CellView): boolean {
  const at = props.at
  return at?.position === c.position && at.one === c.one && at.other === c.other
}

/** How far a position is; a switch that is not as it should be takes more than the fewest. */
function progressWords(done: BenchView['progress'][number]): string {
  if (done.complete) return '✓ complete'
  return done.probed < done.least ? `${done.probed} of ${done.least}` : `${done.probed} probed`
}
</script>

<template>
  <table>
    <caption class="seen-by-readers-only">
      {{
        SAY.pictures.whatShouldBeJoinedAnd
      }}
    </caption>
    <thead>
      <tr>
        <th scope="col">
          <span class="key"
            ><JoinGlyph :made="true" /> {{ SAY.pictures.should }} <JoinGlyph bold :made="true" />
            {{ SAY.pictures.found }}<br /><i>{{ SAY.pictures.slantedFollowsFromOthers }}</i></span
          >
        </th>
        <th v-for="p in positions" :key="p.id" scope="col">
          {{ p.name }}
          <small
            v-for="done in view.progress.filter((d) => d.position === p.id)"
            :key="done.position"
            >{{ progressWords(done) }}</small
          >
        </th>
      </tr>
    </thead>
    <tbody v-for="group in groups" :key="group.name">
      <tr class="group">
        <th scope="rowgroup" :colspan="positions.length + 1">{{ group.name }}</th>
      </tr>
      <tr v-for="row in group.rows" :key="row.name">
        <th scope="row">
          <b :class="row.name.length > 9 ? 'long' : 'mono'">{{ row.name }}</b><small>{{
            row.what
          }}</small>
        </th>
        <td v-for="c in row.cells" :key="c.position">
          <KeyCell
            :cell="c"
            :subject="view.subject"
            :now="isAt(c)"
            :picks="picks"
            @pick="emit('pick', c)"
          />
        </td>
      </tr>
    </tbody>
    <tbody v-if="folds">
      <tr class="fold">
        <th scope="row">
          <button type="button" :aria-expanded="unfolded" @click="unfolded = !unfolded">
            {{ unfolded ? SAY.pictures.foldThemAway : `${apart.length} pairs never joined` }}
          </button>
        </th>
        <td v-for="(words, i) in open" :key="i">{{ words }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: separate;
  border-spacing: 4px 3px;
  table-layout: fixed;
}
th {
  text-align: left;
  font-weight: 400;
}
thead th {
  font-size: 18px;
  font-weight: 700;
  text-align: center;
  line-height: 1.15;
}
thead th:first-child {
  width: 24%;
  text-align: left;
}
small,
.key {
  display: block;
  font-size: 14px;
  font-weight: 400;
  color: var(--quiet);
}
tbody th b {
  font-size: 18px;
}
tbody th small {
  line-height: 1.1;
}
.key :deep(svg) {
  vertical-align: -3px;
}
.long {
  font-family: inherit;
  font-size: 16px;
}
.fold td {
  text-align: center;
  font-size: 15px;
  color: var(--quiet);
}
.fold button {
  width: 100%;
  min-height: 44px;
  padding: 0 6px;
  border: 2px solid var(--dead);
  border-radius: 8px;
  font-weight: 600;
  text-align: left;
}
.group th {
  padding-top: 4px;
  font-size: 14px;
  color: var(--quiet);
}
@media print {
  tbody th small {
    display: inline;
    margin-left: 8px;
    font-size: 12px;
  }
  tbody th b,
  .long {
    font-size: 14px;
  }
  table {
    border-spacing: 4px 1px;
  }
  thead th:first-child {
    width: 27%;
  }
}
</style>
