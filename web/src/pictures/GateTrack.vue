<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ElementView, TraceView, TrackPoint } from '../api/client'
import { findBreak } from '../words/finding'
import { volts } from '../words/numbers'
import { capital } from '../words/units'
import { layOut, type PlacedElement } from './trackLayout'
import { useWidth } from './useWidth'
import VoltageStaircase from './VoltageStaircase.vue'

const props = defineProps<{ trace: TraceView; chosen: string | undefined }>()
const emit = defineEmits<{ choose: [terminal: string] }>()

const frame = ref<HTMLElement | null>(null)
const width = useWidth(frame, 860)
/** Room at the left for the names of the rows. */
const MARGIN = 58
const RAIL = 92
const layout = computed(() => layOut(props.trace, MARGIN, width.value - MARGIN - 4))
const rows = computed(() => {
  const top = RAIL + layout.value.depth + 50
  return { name: top, expected: top + 24, healthy: top + 43, found: top + 67 }
})
/** Figures are as large as the two points nearest to each other allow. */
const figure = computed(() => {
  const xs = layout.value.points.filter((p) => p.y === 0 && shown(p.point)).map((p) => p.x)
  const nearest = Math.min(...xs.slice(1).map((x, i) => x - xs[i]!), 60)
  return Math.min(16, Math.max(11, (nearest - 4) / 3))
})
const stairTop = computed(() => rows.value.found + 26)
const height = computed(() => stairTop.value + 186)
const fault = computed(() => findBreak(props.trace))
const broken = computed(() => new Set(fault.value?.between.map((e) => e.id) ?? []))

type State = 'supply' | 'dead' | 'unknown' | 'ground'

/** What is known of a node: what was found, or nothing. */
function pegState(point: TrackPoint): State {
  if (!point.found) return 'unknown'
  if (point.found.volts > 1) return 'supply'
  return point.found.sound ? 'ground' : 'dead'
}

/** Along the rail, what a point shows holds up to the next that says otherwise. */
const railState = computed(() => {
  const known = layout.value.points.filter((p) => p.point.found)
  return ({ x1, x2, y, element }: PlacedElement): State => {
    if (y > 0) return element.made ? 'unknown' : 'dead'
    const before = known.filter((p) => p.x <= x1 + 1).at(-1)
    const after = known.find((p) => p.x >= x2 - 1)
    const left = before && pegState(before.point)
    const right = after && pegState(after.point)
    if (right === 'supply') return 'supply'
    if (left === 'dead') return 'dead'
    if (left === 'supply' && right === 'dead') return 'unknown'
    return left === right && left ? left : 'unknown'
  }
})

const gates = computed(() =>
  layout.value.elements.filter((e) => ['gate', 'fuse', 'load'].includes(e.element.role)),
)
const joints = computed(() =>
  layout.value.elements.filter((e) => ['joint', 'ground'].includes(e.element.role)),
)

function middle(e: PlacedElement): number {
  return (e.x1 + e.x2) / 2
}

function title(element: ElementView): [string, string] {
  if (element.gate) return [element.gate.control_name, element.gate.position_name]
  const [name = '', own = ''] = element.name.split(', ')
  if (element.role === 'load') return [capital(name.split(' ').at(-1) ?? name), own]
  return ['', capital(name)]
}

function halo(element: ElementView): number {
  return element.suspicion < 0.15 ? 0 : 2 + 5 * Math.min(element.suspicion, 1)
}

function pegLabel(point: TrackPoint): string {
  const parts = [point.point.name, point.point.place]
  if (point.expected != null) parts.push(`expect ${volts(point.expected)} volts`)
  parts.push(point.found ? `found ${volts(point.found.volts)} volts` : 'not read yet')
  return parts.join(', ')
}

function shown(point: TrackPoint): boolean {
  return point.major || !!point.found || point.point.terminal === props.chosen
}
</script>

<template>
  <div ref="frame" class="track">
    <svg
      :width="width"
      :height="height"
      role="group"
      :aria-label="`${trace.circuit} circuit as a track of gates`"
    >
      <g class="rail">
        <line
          v-for="(s, i) in layout.stubs"
          :key="`s${i}`"
          class="unknown"
          :x1="s.x"
          :x2="s.x"
          :y1="RAIL + s.y1"
          :y2="RAIL + s.y2"
        />
        <template v-for="e in layout.elements" :key="e.element.id">
          <line
            v-if="halo(e.element) && e.element.role !== 'gate'"
            class="halo"
            :x1="e.x1"
            :x2="e.x2"
            :y1="RAIL + e.y"
            :y2="RAIL + e.y"
            :stroke-width="halo(e.element) + 10"
          />
          <line :class="railState(e)" :x1="e.x1" :x2="e.x2" :y1="RAIL + e.y" :y2="RAIL + e.y" />
          <line
            v-if="railState(e) === 'ground'"
            class="ground-core"
            :x1="e.x1"
            :x2="e.x2"
            :y1="RAIL + e.y"
            :y2="RAIL + e.y"
          />
        </template>
      </g>
      <line
        v-for="e in joints"
        :key="`j-${e.element.id}`"
        class="joint"
        :x1="middle(e)"
        :x2="middle(e)"
        :y1="RAIL + e.y - 7"
        :y2="RAIL + e.y + 7"
      />

      <g
        v-for="e in gates"
        :key="`g-${e.element.id}`"
        :transform="`translate(${middle(e)} ${RAIL + e.y})`"
      >
        <rect
          v-if="halo(e.element)"
          class="box"
          x="-23"
          y="-34"
          width="46"
          height="50"
          rx="9"
          :stroke-width="halo(e.element)"
        />
        <rect class="clear" x="-13" y="-6" width="26" height="12" />
        <template v-if="e.element.role === 'gate'">
          <line
            class="arm"
            :class="{ broken: broken.has(e.element.id) }"
            x1="-12"
            y1="0"
            :x2="e.element.made && !broken.has(e.element.id) ? 12 : 10"
            :y2="e.element.made && !broken.has(e.element.id) ? 0 : -20"
          />
          <circle class="post" cx="-12" cy="0" r="4.5" />
          <circle class="post" cx="12" cy="0" r="4.5" />
        </template>
        <path
          v-else-if="e.element.role === 'fuse'"
          class="arm thin"
          d="M-11 0c5-9 5 9 11 0s5 9 11 0"
        />
        <path v-else class="arm thin" d="M-16 0c0-9 8-9 8 0c0-9 8-9 8 0c0-9 8-9 8 0c0-9 8-9 8 0" />
        <text class="gate-name" y="-58">{{ title(e.element)[0] }}</text>
        <text class="gate-does" y="-42">{{ title(e.element)[1] }}</text>
        <text v-if="broken.has(e.element.id)" class="state bad" y="32">not made</text>
        <text v-else-if="e.element.proof" class="state good" y="-16">
          {{ e.element.proof === 'under-load' ? '✓✓' : '✓' }}
          <title>
            {{ e.element.proof === 'under-load' ? 'passed under load' : 'not open; not loaded' }}
          </title>
        </text>
      </g>

      <g class="row-names" aria-hidden="true">
        <text x="0" :y="rows.expected">if sound</text>
        <text x="0" :y="rows.healthy">healthy</text>
        <text x="0" :y="rows.found">found</text>
      </g>
      <g
        v-for="p in layout.points"
        :key="p.point.node"
        class="peg"
        :class="[
          pegState(p.point),
          { chosen: p.point.point.terminal === chosen, minor: !shown(p.point) },
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
          :y="RAIL + p.y - 22"
          width="44"
          :height="rows.found - RAIL - p.y + 30"
          rx="8"
        />
        <template v-if="shown(p.point)">
          <rect
            v-if="pegState(p.point) === 'ground'"
            class="mark"
            :x="p.x - 8"
            :y="RAIL + p.y - 8"
            width="16"
            height="16"
          />
          <circle v-else class="mark" :cx="p.x" :cy="RAIL + p.y" r="8" />
        </template>
        <circle v-else class="mark small" :cx="p.x" :cy="RAIL + p.y" r="4.5" />
      </g>

      <g class="labels" aria-hidden="true">
        <g v-for="p in layout.points.filter((q) => shown(q.point))" :key="p.point.node">
          <text v-if="!p.point.found" class="ask" :x="p.x" :y="RAIL + p.y + 5">?</text>
          <g v-if="p.y === 0">
            <text class="short" :x="p.x" :y="rows.name">{{ p.point.point.short }}</text>
            <text
              class="expected mono"
              :style="{ fontSize: `${Math.min(figure, 13.5)}px` }"
              :x="p.x"
              :y="rows.expected"
            >
              {{ p.point.expected == null ? '·' : volts(p.point.expected) }}
            </text>
            <text
              class="healthy mono"
              :style="{ fontSize: `${Math.min(figure, 13)}px` }"
              :x="p.x"
              :y="rows.healthy"
            >
              {{ volts(p.point.healthy) }}
            </text>
            <text
              class="found mono"
              :style="{ fontSize: `${figure}px` }"
              :class="{ bad: p.point.found && !p.point.found.sound }"
              :x="p.x"
              :y="rows.found"
            >
              {{ p.point.found ? volts(p.point.found.volts) : '·' }}
            </text>
          </g>
          <text v-else class="short" :x="p.x" :y="RAIL + p.y + 26">
            {{ p.point.point.short }} {{ p.point.found ? volts(p.point.found.volts) : '' }}
          </text>
        </g>
      </g>

      <VoltageStaircase
        :points="layout.points"
        :elements="layout.elements"
        :fault="fault"
        :left="MARGIN"
        :width="width - MARGIN - 4"
        :top="stairTop"
      />
    </svg>
  </div>
</template>

<style scoped>
.track {
  width: 100%;
  min-width: 0;
  overflow: hidden;
}
svg {
  display: block;
}
.rail line {
  stroke: var(--ink);
  stroke-width: 3;
}
.rail .supply {
  stroke: var(--ember);
  stroke-width: 6;
}
.rail .ground {
  stroke: var(--slate);
  stroke-width: 7;
}
.rail .ground-core {
  stroke: var(--paper);
  stroke-width: 2.5;
}
.rail .dead {
  stroke: var(--dead);
  stroke-width: 3;
  stroke-dasharray: 6 5;
}
.rail .unknown {
  stroke: var(--ink);
  stroke-width: 3;
  stroke-dasharray: 2 4;
}
.rail .halo {
  stroke: var(--plum);
  opacity: 0.28;
}
.joint {
  stroke: var(--ink);
  stroke-width: 2;
}
.clear {
  fill: var(--paper);
}
.arm {
  stroke: var(--ink);
  stroke-width: 6;
  stroke-linecap: round;
  fill: none;
}
.arm.thin {
  stroke-width: 3;
}
.arm.broken {
  stroke: var(--plum);
}
.post {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.box {
  fill: none;
  stroke: var(--plum);
}
text {
  fill: var(--ink);
  text-anchor: middle;
  font-size: 14px;
}
.gate-name {
  font-size: 16px;
  font-weight: 700;
}
.gate-does {
  fill: var(--quiet);
}
.state {
  font-weight: 700;
}
.good {
  fill: var(--moss);
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
.dead .mark {
  stroke: var(--plum);
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
</style>
