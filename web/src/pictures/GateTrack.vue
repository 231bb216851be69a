<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { TraceView } from '../api/client'
import TrackGate from './TrackGate.vue'
import TrackPegs from './TrackPegs.vue'
import VoltageStaircase from './VoltageStaircase.vue'
import { labels, roomNeeded } from './trackLabels'
import { layOut, type PlacedElement } from './trackLayout'
import { halo, railState } from './trackState'
import { useWidth } from './useWidth'

const props = defineProps<{
  trace: TraceView
  chosen: string | undefined
  /** A drawing of how it ought to be: nothing is measured, everything is known. */
  sure?: boolean
}>()
const emit = defineEmits<{ choose: [terminal: string] }>()

const frame = ref<HTMLElement | null>(null)
const width = useWidth(frame, 860)
/** Room at the left for the names of the rows. */
const MARGIN = 82
const RAIL = 92
const fits = computed(() => layOut(props.trace, MARGIN, width.value - MARGIN - 4))
/** What would run into its neighbor is drawn wider, and scrolls. */
const drawn = computed(() => {
  const rail = width.value - MARGIN - 4
  let room = rail
  // What stands between the points does not grow with the rail, so one step is not always enough.
  for (let step = 0; step < 4; step++) {
    const need = roomNeeded(labels(layOut(props.trace, MARGIN, room).points, props.chosen))
    if (need <= 1) break
    room = Math.min(Math.ceil(room * need), rail * 3)
  }
  return MARGIN + room + 4
})
/** How far it is scrolled: the names of the rows stay in view. */
const scrolled = ref(0)
const layout = computed(() =>
  drawn.value > width.value ? layOut(props.trace, MARGIN, drawn.value - MARGIN - 4) : fits.value,
)
/** The break, else the point that is chosen, stays in view. */
const focused = computed(() => {
  const at = props.trace.lost?.after.terminal ?? props.chosen
  return layout.value.points.find((p) => p.point.point.terminal === at)?.x
})
watch(
  focused,
  (x) => {
    if (x !== undefined && drawn.value > width.value)
      frame.value?.scrollTo({ left: x - width.value / 2 })
  },
  { flush: 'post' },
)
const rows = computed(() => {
  const top = RAIL + layout.value.depth + 44
  if (props.sure) return { name: top, expected: top, healthy: top + 44, found: top + 44 }
  return { name: top, expected: top + 42, healthy: top + 61, found: top + 85 }
})
const stairTop = computed(() => rows.value.found + 26)
const height = computed(() => stairTop.value + 186)
const broken = computed(() => new Set(props.trace.lost?.between))

const gates = computed(() =>
  layout.value.elements.filter((e) => ['gate', 'fuse', 'diode', 'load'].includes(e.element.role)),
)
const joints = computed(() =>
  layout.value.elements.filter((e) => ['joint', 'ground'].includes(e.element.role)),
)

function middle(e: PlacedElement): number {
  return (e.x1 + e.x2) / 2
}
</script>

<template>
  <div ref="frame" class="track" @scroll="scrolled = frame?.scrollLeft ?? 0">
    <svg
      :width="drawn"
      :height="height"
      role="group"
      :aria-label="`${trace.circuit} circuit as a track of gates`"
    >
      <g class="rail">
        <line
          v-for="(s, i) in layout.stubs"
          :key="`s${i}`"
          :class="sure ? 'stub' : 'unknown'"
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
          <line
            :class="railState(layout, e, sure)"
            :x1="e.x1"
            :x2="e.x2"
            :y1="RAIL + e.y"
            :y2="RAIL + e.y"
          />
          <line
            v-if="railState(layout, e, sure) === 'ground'"
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

      <TrackGate
        v-for="e in gates"
        :key="`g-${e.element.id}`"
        :transform="`translate(${middle(e)} ${RAIL + e.y})`"
        :element="e.element"
        :broken="broken.has(e.element.id)"
      />
      <TrackPegs
        :scrolled="scrolled"
        :points="layout.points"
        :rail="RAIL"
        :rows="rows"
        :sure="sure"
        :chosen="chosen"
        @choose="emit('choose', $event)"
      />
      <VoltageStaircase
        :points="layout.points"
        :elements="layout.elements"
        :fault="trace.lost"
        :sure="sure"
        :left="MARGIN"
        :width="drawn - MARGIN - 4"
        :top="stairTop"
      />
    </svg>
  </div>
</template>

<style scoped>
.track {
  width: 100%;
  min-width: 0;
  overflow-x: auto;
  overflow-y: hidden;
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
.rail .between {
  stroke: var(--ember);
  stroke-width: 2.5;
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
</style>
