<script setup lang="ts">
import { computed } from 'vue'
import type { LostView } from '../api/client'
import { volts } from '../words/numbers'
import type { PlacedElement, PlacedPoint } from './trackLayout'
import { SAY } from '../words/say'

const props = defineProps<{
  points: PlacedPoint[]
  elements: PlacedElement[]
  fault: LostView | null | undefined
  left: number
  width: number
  top: number
  sure?: boolean
}>()

const HEIGHT = 150
const CEILING = 14
const y = (value: number) =>
  props.top + 22 + (1 - Math.min(Math.max(value, 0), CEILING) / CEILING) * HEIGHT

const rail = computed(() => props.points.filter((p) => p.y === 0))
const line = (of: (p: PlacedPoint) => number | null | undefined) =>
  rail.value
    .map((p) => ({ x: p.x, v: of(p) }))
    .filter((p): p is { x: number; v: number } => p.v != null)
    .map((p) => `${p.x},${y(p.v)}`)
    .join(' ')
const expected = computed(() => line((p) => p.point.expected))
const healthy = computed(() => line((p) => p.point.healthy))
const found = computed(() => rail.value.filter((p) => p.point.found))

/** Where the stair falls between two points that nothing to be measured lies between: at the contact
 * or load there. Where other points lie between it falls somewhere, and no place is drawn. */
function fallsAt(from: PlacedPoint, to: PlacedPoint): number | undefined {
  const rails = rail.value
  if (rails.indexOf(to) - rails.indexOf(from) > 1) return undefined
  const between = props.elements.find(
    (e) => ['gate', 'load'].includes(e.element.role) && e.x1 >= from.x - 1 && e.x2 <= to.x + 1,
  )
  return between ? (between.x1 + between.x2) / 2 : (from.x + to.x) / 2
}

const steps = computed(() =>
  found.value.slice(1).map((to, i) => {
    const from = found.value[i]!
    const at = fallsAt(from, to)
    return {
      x1: from.x,
      x: at ?? (from.x + to.x) / 2,
      somewhere: at === undefined,
      x2: to.x,
      y1: y(from.point.found!.volts),
      y2: y(to.point.found!.volts),
      broken: props.fault?.after.terminal === to.point.point.terminal,
      lost: from.point.found!.volts - to.point.found!.volts,
    }
  }),
)
const fall = computed(() => steps.value.find((s) => s.broken))
/** The words stand on whichever side of the fall has room. */
const toTheLeft = computed(() => !!fall.value && fall.value.x > props.left + props.width * 0.62)
</script>

<template>
  <g class="stair" role="img" :aria-label="SAY.pictures.voltsAlongTheCircuit">
    <text class="legend" :x="left" :y="top + 8">
      {{ sure ? SAY.pictures.voltsAlongTheCircuitOf : SAY.pictures.voltsYouReadBoldShould }}
    </text>
    <g v-for="v in [0, 4, 8, 12]" :key="v">
      <line class="grid" :x1="left" :x2="left + width" :y1="y(v)" :y2="y(v)" />
      <text class="scale mono" :x="left - 10" :y="y(v) + 5">{{ v }}</text>
    </g>
    <polyline :class="sure ? 'found' : 'healthy'" :points="healthy" />
    <polyline class="expected" :points="expected" />
    <template v-for="(s, i) in steps" :key="i">
      <path
        v-if="s.somewhere"
        class="somewhere"
        :class="{ broken: s.broken }"
        :d="`M${s.x1},${s.y1} H${s.x2} V${s.y2} H${s.x1} Z`"
      />
      <g v-else>
        <polyline class="found" :points="`${s.x1},${s.y1} ${s.x},${s.y1}`" />
        <polyline class="found" :points="`${s.x},${s.y2} ${s.x2},${s.y2}`" />
        <line
          class="found"
          :class="{ broken: s.broken }"
          :x1="s.x"
          :x2="s.x"
          :y1="s.y1"
          :y2="s.y2"
        />
      </g>
    </template>
    <circle
      v-for="p in found"
      :key="p.point.node"
      class="dot"
      :class="{ bad: !p.point.found!.sound }"
      :cx="p.x"
      :cy="y(p.point.found!.volts)"
      r="6.5"
    />
    <g v-if="fall && fault" :class="{ before: toTheLeft }">
      <text class="lost" :x="fall.x + (toTheLeft ? -14 : 14)" :y="y(7)"
        >{{ volts(fall.lost) }} V lost here</text
      >
      <text class="where" :x="fall.x + (toTheLeft ? -14 : 14)" :y="y(7) + 20">
        between {{ fault.before.name }} and {{ fault.after.name }}
      </text>
    </g>
  </g>
</template>

<style scoped>
.somewhere {
  fill: var(--well);
  stroke: none;
}
.somewhere.broken {
  fill: var(--plum-wash);
}
text {
  fill: var(--ink);
  font-size: 14px;
  text-anchor: start;
}
.legend {
  fill: var(--quiet);
}
.scale {
  fill: var(--quiet);
  text-anchor: end;
}
.grid {
  stroke: var(--rule);
}
polyline {
  fill: none;
}
.expected {
  stroke: var(--ink);
  stroke-width: 1.5;
}
.healthy {
  stroke: var(--quiet);
  stroke-width: 2;
  stroke-dasharray: 2 5;
}
.found {
  stroke: var(--ember);
  stroke-width: 4;
}
.found.broken {
  stroke: var(--plum);
  stroke-width: 6;
}
.dot {
  fill: var(--ember);
}
.dot.bad {
  fill: var(--plum);
}
.lost {
  fill: var(--plum);
  font-size: 19px;
  font-weight: 700;
}
/* Legible over the lines that it stands on. */
.lost,
.where {
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 5px;
  stroke-linejoin: round;
}
.before text {
  text-anchor: end;
}
</style>
