<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { BenchView, BenchLogView, SeenAtBench } from '../../../api/client'
import ContactStates from '../../../pictures/ContactStates.vue'
import { LINKAGE, pair, positionName } from '../../../words/bench'
import { capital } from '../../../words/units'
import BenchColumns from './BenchColumns.vue'
import BeepNoBeep from '../probe/BeepNoBeep.vue'
import DoCard from '../probe/DoCard.vue'
import { SAY } from '../../../words/say'

/** The same pair with the switch in its place: pressed by the machine against pressed by hand. */
const props = defineProps<{ view: BenchView; open: boolean; refused: string }>()
const emit = defineEmits<{ record: [seen: SeenAtBench] }>()

/** Pairs that change between the two positions, as found or expected. */
const pairs = computed(() => {
  const [rest, worked] = props.view.subject.positions
  const byPair = new Map<string, { one: string; other: string; rest?: boolean; worked?: boolean }>()
  for (const c of props.view.cells) {
    const made = c.follows ?? c.expected ?? undefined
    const key = pair(c.one, c.other)
    const row = byPair.get(key) ?? { one: c.one, other: c.other }
    if (c.position === rest?.id) row.rest = made
    if (c.position === worked?.id) row.worked = made
    byPair.set(key, row)
  }
  return [...byPair.values()].filter(
    (r) => r.rest != null && r.worked != null && r.rest !== r.worked,
  )
})

const steps = computed(() =>
  pairs.value.slice(0, 4).flatMap((p) =>
    props.view.subject.positions.slice(0, 2).map((position, i) => {
      const found = probesOf(p.one, p.other, position.id)
      return {
        ...p,
        position,
        should: i === 0 ? p.rest : p.worked,
        found,
        last: found.at(-1),
      }
    }),
  ),
)

/** A buzzer sounds under so many ohms. */
const BUZZER_OHMS = 30

function probesOf(one: string, other: string, position: string) {
  const standing = props.view.log.filter((e: BenchLogView) => !e.voided)
  return standing.flatMap(({ entry: e }) => {
    if (e.kind !== 'probe' || e.worked_by !== 'machine' || e.position !== position) return []
    const same = (e.from === one && e.to === other) || (e.from === other && e.to === one)
    if (!same) return []
    if (e.reading.kind === 'buzz') return [e.reading.value]
    // As the buzzer would have it; nothing is over range.
    return e.reading.kind === 'ohms' ? [(e.reading.value ?? Infinity) < BUZZER_OHMS] : []
  })
}

const at = ref(0)
watch(
  steps,
  (all) => {
    const open = all.findIndex((s) => !s.found.length)
    if (open >= 0) at.value = open
  },
  { immediate: true },
)
const step = computed(() => steps.value[at.value])

function take(typed: string) {
  const s = step.value
  if (!s || !props.open) return
  emit('record', {
    kind: 'probe',
    position: s.position.id,
    from: s.one,
    to: s.other,
    typed,
    sprung_from: null,
    worked_by: 'machine',
  })
}
defineExpose({ take })
/** What to do with the machine so that it works the switch so. */
function working(position: string): string {
  const moved = props.view.machine?.works[position]
  const does = position === 'pressed' ? 'the machine presses it' : 'the machine lets it out'
  if (moved) return `${capital(moved.join(', ') || 'as parked')}: ${does}`
  return position === 'pressed' ? 'Let the machine press it' : 'Let the machine leave it alone'
}
</script>

<template>
  <BenchColumns do-first>
    <section :aria-label="SAY.bench.onTheMachine">
      <h2>{{ SAY.bench.onTheMachine }}</h2>
      <p>
        {{ SAY.bench.theSwitchBackInIts }}
      </p>
      <p class="verdict" role="status">{{ LINKAGE[view.linkage] }}</p>
      <table v-if="steps.length">
        <thead>
          <tr>
            <th scope="col">{{ SAY.bench.pair }}</th>
            <th scope="col">{{ SAY.common.machine }}</th>
            <th scope="col">{{ SAY.bench.byHand }}</th>
            <th scope="col">{{ SAY.bench.byTheMachine }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(s, i) in steps" :key="i" :class="{ now: i === at }">
            <td>
              <button type="button" :aria-current="i === at ? 'step' : undefined" @click="at = i">
                <b class="mono">{{ pair(s.one, s.other) }}</b>
              </button>
            </td>
            <td>{{ positionName(view.subject, s.position.id) }}</td>
            <td>{{ s.should ? SAY.bench.closed : SAY.common.open }}</td>
            <td :class="{ bad: s.last != null && s.last !== s.should }">
              <template v-if="s.last != null"
                ><b>{{ s.last === s.should ? '✓' : '✕' }}</b>
                {{ s.last ? SAY.bench.closed : SAY.common.open
                }}{{ s.found.length > 1 ? `, ${s.found.length} times` : '' }}</template
              >
            </td>
          </tr>
        </tbody>
      </table>
      <p v-else>{{ SAY.bench.noPairChangesBetweenThe }}</p>
    </section>
    <template #aside>
      <DoCard v-if="step && open" class="no-print" :label="SAY.common.next">
        <p class="do">{{ working(step.position.id) }}</p>
        <p class="pair">
          <b class="mono">{{ pair(step.one, step.other) }}</b> should
          <b>{{ step.should ? SAY.bench.beep : SAY.bench.notBeep }}</b>
        </p>
        <BeepNoBeep @answer="take" />
        <p v-if="refused" class="bad" role="alert">{{ refused }}</p>
      </DoCard>
      <slot name="meter" />
      <ContactStates :view="view" :at="step?.position.id" :red="step?.one" :black="step?.other" />
    </template>
  </BenchColumns>
</template>

<style scoped>
.verdict {
  padding: 8px 12px;
  border-left: 7px solid var(--ink);
  background: var(--panel);
  font-size: 20px;
  font-weight: 700;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 18px;
}
th {
  text-align: left;
  font-size: 15px;
  color: var(--quiet);
}
td {
  border-top: 1px solid var(--rule);
}
td button {
  min-height: 48px;
  padding: 0 8px;
  border-left: 6px solid transparent;
}
.now {
  background: var(--well);
}
.now button {
  border-left-color: var(--ember);
}
.pair {
  font-size: 20px;
}
.bad {
  color: var(--plum);
  font-weight: 700;
}
.do.do {
  font-size: 24px;
}
</style>
