<script setup lang="ts">
import { computed } from 'vue'
import type { BenchView } from '../api/client'
import { columns } from './switchDrawing'

/**
 * A switch that is pressed, pulled, rocked or energized, in each of its positions: what works it
 * drawn as it then stands, its poles as columns beneath. A bar that was found is solid, one that is
 * only expected is dotted.
 */
const props = defineProps<{
  view: BenchView
  /** The position that it is to be in. */
  at: string | undefined
  red: string | undefined
  black: string | undefined
}>()

const WIDTH = 196
const TOP = 94
const ROW = 34

const own = computed(() => columns(props.view))
const tall = computed(() => Math.max(...own.value.map((c) => c.terminals.length), 2))
const height = computed(() => TOP + ROW * (tall.value - 1) + 26)
const step = computed(() => (WIDTH - 12) / own.value.length)
const actuator = computed(
  () =>
    props.view.subject.profile?.actuator ??
    (props.view.subject.kind === 'pto-switch'
      ? 'pull'
      : props.view.subject.kind === 'relay'
        ? 'coil'
        : 'plunger'),
)

/** What the names of a column begin with, up to a blank or a dash: "A ", "kill-". */
function shared(names: string[]): string {
  const [first = ''] = names
  const end = Math.max(first.lastIndexOf(' '), first.lastIndexOf('-')) + 1
  const start = first.slice(0, end)
  return names.every((n) => n.startsWith(start) && n.length > end) ? start : ''
}

const states = computed(() =>
  props.view.subject.positions.map((p, i) => ({
    ...p,
    worked: i > 0,
    columns: own.value.map((column, c) => ({
      x: 22 + step.value * c,
      shared: shared(column.terminals),
      terminals: column.terminals.map((id, t) => ({
        id,
        label: id.slice(shared(column.terminals).length),
        y: TOP + ROW * t,
      })),
      bars: (column.made[p.id] ?? []).map((bar) => ({
        found: bar.found,
        y1: TOP + ROW * bar.from,
        y2: TOP + ROW * bar.to,
      })),
    })),
  })),
)
</script>

<template>
  <div class="states" :class="{ tight: own.length > 2 }">
    <figure v-for="s in states" :key="s.id" :class="{ now: s.id === at }">
      <svg
        :viewBox="`0 0 ${WIDTH} ${height}`"
        role="img"
        :aria-label="`${s.name}: ${s.columns
          .filter((c) => c.bars.length)
          .map((c) => c.terminals.map((t) => t.id).join(' to ') + ' closed')
          .join(', ')}`"
      >
        <g class="actuator">
          <template v-if="actuator === 'plunger'">
            <rect x="86" :y="s.worked ? 30 : 8" width="24" :height="s.worked ? 22 : 44" rx="5" />
            <path v-if="s.worked" class="push" d="M98 2v20m-8-8 8 9 8-9" />
          </template>
          <template v-else-if="actuator === 'ball'">
            <circle cx="98" :cy="s.worked ? 46 : 34" r="18" />
            <path v-if="s.worked" class="push" d="M98 2v20m-8-8 8 9 8-9" />
          </template>
          <template v-else-if="actuator === 'sliding-plate'">
            <rect :x="s.worked ? 108 : 46" y="30" width="80" height="16" rx="3" />
            <path v-if="s.worked" class="push" d="M46 38h52m-9-8 9 8-9 8" />
          </template>
          <template v-else-if="actuator === 'rocker'">
            <path
              :d="s.worked ? 'M48 44 L148 20 L151 32 L51 56z' : 'M48 20 L148 44 L145 56 L45 32z'"
            />
          </template>
          <template v-else-if="actuator === 'coil'">
            <rect x="68" y="16" width="60" height="30" rx="4" />
            <path class="push" d="M74 46 84 16m0 30 10-30m0 30 10-30m0 30 10-30m0 30 10-30" />
            <text v-if="s.worked" x="140" y="38">12 V{{ ' ' }}</text>
          </template>
          <template v-else>
            <rect x="90" :y="s.worked ? 14 : 30" width="16" :height="s.worked ? 38 : 22" />
            <rect x="66" :y="s.worked ? 4 : 22" width="64" height="14" rx="7" />
          </template>
        </g>
        <rect class="body" x="4" y="52" :width="WIDTH - 8" :height="height - 56" rx="10" />
        <g v-for="(c, i) in s.columns" :key="i">
          <text class="id shared" :x="c.x - 9" :y="74">
            {{ c.shared.replace('-', '') }}{{ ' ' }}
          </text>
          <line
            v-for="(bar, b) in c.bars"
            :key="b"
            class="bar"
            :class="{ found: bar.found }"
            :x1="c.x"
            :x2="c.x"
            :y1="bar.y1"
            :y2="bar.y2"
          />
          <g v-for="t in c.terminals" :key="t.id">
            <circle v-if="t.id === red" class="red" :cx="c.x" :cy="t.y" r="13" />
            <circle v-if="t.id === black" class="black" :cx="c.x" :cy="t.y" r="13" />
            <circle class="pin" :cx="c.x" :cy="t.y" r="7" />
            <text class="id" :x="c.x + 15" :y="t.y + 5">{{ t.label }}{{ ' ' }}</text>
          </g>
        </g>
      </svg>
      <figcaption>{{ s.name }}</figcaption>
    </figure>
  </div>
</template>

<style scoped>
.states {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
figure {
  margin: 0;
  padding: 4px;
  border: 3px solid transparent;
  border-radius: 10px;
}
.now {
  border-color: var(--ember);
}
figcaption {
  text-align: center;
  font-weight: 700;
}
.now figcaption::before {
  content: '▸ ';
}
svg {
  display: block;
  width: 100%;
  max-height: 230px;
}
.body {
  fill: var(--well);
  stroke: var(--ink);
  stroke-width: 2;
}
.actuator rect,
.actuator circle,
.actuator path:not(.push) {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.push {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.5;
}
.bar {
  stroke: var(--ink);
  stroke-width: 5;
  stroke-dasharray: 2 6;
}
.bar.found {
  stroke-width: 8;
  stroke-dasharray: none;
}
.pin {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.red {
  fill: none;
  stroke: var(--ember);
  stroke-width: 5;
}
.black {
  fill: none;
  stroke: var(--ink);
  stroke-width: 4;
  stroke-dasharray: 5 3;
}
.id {
  text-anchor: start;
}
.tight .id {
  font-size: 13px;
}
.shared {
  font-weight: 700;
}
text {
  fill: var(--ink);
  font-size: 15px;
  paint-order: stroke;
  stroke: var(--well);
  stroke-width: 4px;
}
@media print {
  .now {
    border-color: transparent;
  }
  .now figcaption::before {
    content: none;
  }
  .red,
  .black {
    display: none;
  }
}
</style>
