<script setup lang="ts">
import { computed } from 'vue'
import type { TrackPoint } from '../api/client'
import { volts } from '../words/numbers'
import { labels } from './trackLabels'
import type { PlacedPoint } from './trackLayout'
import { labelled, pegState } from './trackState'
import { SAY } from '../words/say'

const props = withDefaults(
  defineProps<{
    points: PlacedPoint[]
    /** Height of the rail, and of the rows of words and figures under it. */
    rail: number
    rows: { name: number; expected: number; healthy: number; found: number }
    chosen: string | undefined
    sure?: boolean
    /** How far the track is scrolled. */
    scrolled?: number
  }>(),
  { scrolled: 0 },
)
const emit = defineEmits<{ choose: [terminal: string] }>()

/** Names stand in two rows by turns. */
const second = computed(
  () => new Set(labels(props.points, props.chosen).flatMap((l) => (l.row ? [l.point] : []))),
)

/** What stands beside the name of a point on a branch. */
function branchFigure(point: TrackPoint): string {
  const value = props.sure ? point.healthy : point.found?.volts
  return value == null ? '' : volts(value)
}

function pegLabel(point: TrackPoint): string {
  const parts = [point.point.name, point.point.place]
  if (point.expected != null) parts.push(`should read ${volts(point.expected)} volts`)
  if (props.sure) parts.push(point.healthy == null ? 'floats' : `${volts(point.healthy)} volts`)
  else parts.push(point.found ? `you read ${volts(point.found.volts)} volts` : 'not read yet')
  return parts.join(', ')
}
</script>

<template>
  <g :class="{ sure }">
    <g
      v-for="p in points"
      :key="p.point.node"
      class="peg"
      :class="[
        pegState(p.point, sure),
        { chosen: p.point.point.terminal === chosen, minor: !labelled(p.point, chosen) },
      ]"
      role="button"
      tabindex="0"
      :aria-label="pegLabel(p.point)"
      :aria-pressed="p.point.point.terminal === chosen"
      @click="emit('choose', p.point.point.terminal)"
      @keydown.enter.prevent="emit('choose', p.point.point.terminal)"
      @keydown.space.prevent="emit('choose', p.point.point.terminal)"
    >
      <title>{{ pegLabel(p.point) }}</title>
      <rect
        class="target"
        :x="p.x - 22"
        :y="rail + p.y - 22"
        width="44"
        :height="rows.found - rail - p.y + 30"
        rx="8"
      />
      <template v-if="labelled(p.point, chosen)">
        <rect
          v-if="pegState(p.point, sure) === 'ground'"
          class="mark"
          :x="p.x - 8"
          :y="rail + p.y - 8"
          width="16"
          height="16"
        />
        <circle v-else class="mark" :cx="p.x" :cy="rail + p.y" r="8" />
      </template>
      <circle v-else class="mark small" :cx="p.x" :cy="rail + p.y" r="4.5" />
    </g>

    <g class="labels" aria-hidden="true">
      <g v-for="p in points.filter((q) => labelled(q.point, chosen))" :key="p.point.node">
        <text v-if="!p.point.found && !sure" class="ask" :x="p.x" :y="rail + p.y + 5">?</text>
        <g v-if="p.y === 0">
          <text class="short" :x="p.x" :y="rows.name + (second.has(p) ? 18 : 0)">{{
            p.point.point.short
          }}</text>
          <text v-if="!sure" class="expected mono" :x="p.x" :y="rows.expected">
            {{ p.point.expected == null ? '·' : volts(p.point.expected) }}
          </text>
          <text class="mono" :class="sure ? 'found' : 'healthy'" :x="p.x" :y="rows.healthy">
            {{ p.point.healthy == null ? '–' : volts(p.point.healthy) }}
          </text>
          <text
            v-if="!sure"
            class="found mono"
            :class="{ bad: p.point.found && !p.point.found.sound }"
            :x="p.x"
            :y="rows.found"
          >
            {{ p.point.found ? volts(p.point.found.volts) : '·' }}
          </text>
        </g>
        <text v-else class="short" :x="p.x" :y="rail + p.y + 26">
          {{ p.point.point.short }} {{ branchFigure(p.point) }}
        </text>
      </g>
    </g>
    <g class="row-names" aria-hidden="true" :transform="`translate(${scrolled} 0)`">
      <rect
        v-if="scrolled > 0"
        x="0"
        :y="rows.expected - 18"
        width="84"
        :height="rows.found - rows.expected + 26"
      />
      <text v-if="sure" x="0" :y="rows.healthy">{{ SAY.pictures.volts }}</text>
      <template v-else>
        <text x="0" :y="rows.expected">{{ SAY.pictures.shouldRead }}</text>
        <text x="0" :y="rows.healthy">{{ SAY.pictures.good }}</text>
        <text x="0" :y="rows.found">{{ SAY.pictures.youRead }}</text>
      </template>
    </g>
  </g>
</template>

<style scoped>
text {
  fill: var(--ink);
  text-anchor: middle;
  font-size: 14px;
}
.bad,
.found.bad {
  fill: var(--plum);
}
.row-names text {
  text-anchor: start;
  fill: var(--quiet);
  font-size: 13px;
}
.labels {
  pointer-events: none;
}
.peg {
  cursor: pointer;
}
.peg:focus-visible {
  outline: none;
}
.target {
  fill: transparent;
}
.peg:hover .target {
  fill: var(--well);
  opacity: 0.5;
}
.peg:focus-visible .target,
.peg.chosen .target {
  stroke: var(--slate);
  stroke-width: 2.5;
  fill: var(--well);
  fill-opacity: 0.45;
}
.mark {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.unknown .mark {
  stroke-dasharray: 2 2.5;
}
.unknown .mark.small {
  stroke-dasharray: none;
  stroke-width: 2;
}
.supply .mark {
  fill: var(--ember);
  stroke: var(--paper);
}
.between .mark {
  stroke: var(--ember);
}
.dead .mark {
  stroke: var(--plum);
}
.sure .dead .mark {
  stroke: var(--dead);
}
.ground .mark {
  fill: var(--slate);
  stroke: var(--paper);
}
.ask {
  font-weight: 700;
}
.short {
  font-weight: 700;
}
.expected {
  fill: var(--ink);
}
.healthy {
  fill: var(--quiet);
}
.found {
  font-weight: 700;
}
.row-names {
  pointer-events: none;
}
.row-names rect {
  fill: var(--paper);
}
</style>
