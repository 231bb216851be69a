<script setup lang="ts">
import { computed, ref } from 'vue'
import type { BenchView, SeenAtBench } from '../../../api/client'
import TravelBands from '../../../pictures/TravelBands.vue'
import { pair } from '../../../words/bench'
import BenchColumns from './BenchColumns.vue'
import BeepNoBeep from '../probe/BeepNoBeep.vue'
import DoCard from '../probe/DoCard.vue'
import { SAY } from '../../../words/say'

/** A slow stroke: the plunger in and out step by step, made or open at each. */
const props = defineProps<{ view: BenchView; open: boolean; refused: string }>()
const emit = defineEmits<{ record: [seen: SeenAtBench] }>()

const STEP = 5
const pairs = computed(() => {
  const all = new Map<string, { one: string; other: string; joined: boolean }>()
  for (const c of props.view.cells) {
    const key = pair(c.one, c.other)
    const joined = (c.follows ?? c.expected ?? false) || (all.get(key)?.joined ?? false)
    all.set(key, { one: c.one, other: c.other, joined })
  }
  const pairs = [...all].map(([key, v]) => ({ key, ...v }))
  const joined = pairs.filter((p) => p.joined)
  return joined.length ? joined : pairs
})
/** The pair that was swept last, until another is chosen. */
const last = props.view.travels.at(-1)
const chosen = ref(last && pair(last.one, last.other))
const own = computed(() => pairs.value.find((p) => p.key === chosen.value) ?? pairs.value[0])
const travels = computed(() =>
  props.view.travels.filter((t) => t.one === own.value?.one && t.other === own.value.other),
)
const travel = ref(0)
const way = ref<'in' | 'out'>('in')

/** Made or open here; on to the next step, and back out at the end. */
function take(typed: string) {
  const p = own.value
  if (!p || !props.open) return
  const ohms = Number.parseFloat(typed)
  const made = /^(buzz|z)/i.test(typed) || ohms < 30
  emit('record', {
    kind: 'stroke',
    from: p.one,
    to: p.other,
    way: way.value,
    travel: travel.value,
    made,
  })
  step(1)
}
function step(by: 1 | -1) {
  const on = travel.value + (way.value === 'in' ? STEP : -STEP) * by
  if (on > 100) way.value = 'out'
  else if (on < 0) way.value = 'in'
  else travel.value = on
}
const findings = computed(() =>
  travels.value.flatMap((t) => {
    const going = t.way === 'in' ? 'Going in' : 'Coming out'
    const dead = t.dead.map(
      (d) =>
        `${going}, dead spot from ${Math.round(d.from)} to ${Math.round(d.to)}%: it ${d.made ? 'closes' : 'opens'} there. A shaking machine will find that spot.`,
    )
    const late = t.late
      ? [
          `${going}, it changes only at the end of its travel. A little wear in the linkage and it won’t get there.`,
        ]
      : []
    return [...dead, ...late]
  }),
)
const differs = computed(() => {
  const [going, coming] = (['in', 'out'] as const).map(
    (w) => travels.value.find((t) => t.way === w)?.changes_at,
  )
  return going != null && coming != null ? Math.abs(going - coming) : undefined
})
defineExpose({ take, step })
</script>

<template>
  <BenchColumns do-first>
    <section :aria-label="SAY.bench.slowStroke">
      <h2>{{ SAY.bench.slowStroke }}</h2>
      <div role="group" :aria-label="SAY.bench.pair" class="row">
        <v-btn
          v-for="p in pairs.slice(0, 12)"
          :key="p.key"
          class="mono"
          :aria-pressed="own?.key === p.key"
          :class="{ strong: own?.key === p.key }"
          @click="chosen = p.key"
          >{{ p.key }}</v-btn
        >
      </div>
      <TravelBands :travels="travels" :at="travel" :way="way" />
      <ul v-if="findings.length">
        <li v-for="f in findings" :key="f">{{ f }}</li>
      </ul>
      <p v-else-if="travels.length">{{ SAY.bench.noDeadSpotSoFar }}</p>
      <p v-else>
        {{ SAY.bench.clipToThePairAnd }}
      </p>
      <p v-if="differs != null" class="quiet">
        It changes {{ Math.round(differs) }}% of its travel later one way than the other. A little
        is normal for a snap switch.
      </p>
    </section>
    <template #aside>
      <DoCard v-if="open" class="no-print" :label="SAY.common.next">
        <p class="do">
          {{ way === 'in' ? SAY.bench.pressInTo : SAY.bench.letOutTo }}
          <span class="mono">{{ travel }}%</span>
        </p>
        <p>
          {{ SAY.bench.probesOn }} <b class="mono">{{ own?.key }}</b>
        </p>
        <BeepNoBeep @answer="take" />
        <div class="row">
          <v-btn @click="step(-1)"><kbd>[</kbd>&nbsp;Back a step</v-btn>
          <v-btn @click="step(1)"><kbd>]</kbd>&nbsp;Next step</v-btn>
          <v-btn @click="way = way === 'in' ? 'out' : 'in'">{{
            way === 'in' ? SAY.bench.lettingOut : SAY.bench.pressingIn
          }}</v-btn>
        </div>
        <p v-if="refused" class="bad" role="alert">{{ refused }}</p>
      </DoCard>
      <slot name="meter" />
    </template>
  </BenchColumns>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
ul {
  margin: 8px 0;
  padding: 0;
  list-style: none;
}
li {
  margin-bottom: 6px;
  padding-left: 12px;
  border-left: 7px solid var(--plum);
  font-size: 18px;
  font-weight: 700;
}
.bad {
  color: var(--plum);
  font-weight: 700;
}
</style>
