<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ElementView, LadderView } from '../api/client'
import { gateWords } from '../words/reasons'
import { list } from '../words/units'
import TrackGate from './TrackGate.vue'
import { useWidth } from './useWidth'
import { SAY } from '../words/say'

const props = defineProps<{ ladder: LadderView }>()

const frame = ref<HTMLElement | null>(null)
const width = useWidth(frame, 860)
/** From the edge to an upright, above the first rung, and from rung to rung, in pixels. */
const MARGIN = 64
const TOP = 104
const RUNG = 122
const left = MARGIN
const right = computed(() => width.value - MARGIN)
const height = computed(() => TOP + RUNG * (props.ladder.rungs.length - 1) + 58)

const drawn = (e: ElementView) => ['gate', 'diode', 'fuse', 'load'].includes(e.role)

/** What a complete rung does: a module that fires grounded runs by it. */
const now = computed(() => (props.ladder.fires_grounded ? 'Fires now by' : 'Stops it now'))

const rungs = computed(() =>
  props.ladder.rungs.map((rung, i) => {
    const stops = rung.elements.filter(drawn)
    const step = (right.value - left) / (stops.length + 1)
    const gates = rung.elements.filter((e) => e.role === 'gate')
    const ways = list(gates.map(gateWords), 'and')
    return {
      lit: rung.lit,
      y: TOP + i * RUNG,
      stops: stops.map((element, s) => ({ element, x: left + step * (s + 1) })),
      says: rung.lit ? `${now.value}: ${ways || 'grounded'}` : ways,
    }
  }),
)
const lit = computed(() => rungs.value.some((r) => r.lit))
</script>

<template>
  <div ref="frame" class="ladder">
    <svg
      :width="width"
      :height="height"
      role="img"
      :aria-label="`${ladder.fires_grounded ? 'Firing' : 'Kill'} ladder, ${ladder.rungs.length} ways to ground`"
    >
      <text class="end" :x="left" y="20">
        {{ ladder.fires_grounded ? SAY.pictures.firingLead : SAY.pictures.killWire }}
      </text>
      <text class="end" :x="right" y="20">{{ SAY.pictures.ground }}</text>
      <line class="upright" :class="{ lit }" :x1="left" :x2="left" y1="32" :y2="height - 6" />
      <line class="upright ground" :x1="right" :x2="right" y1="32" :y2="height - 6" />
      <g v-for="(r, i) in rungs" :key="i" :class="{ lit: r.lit }">
        <line class="rail" :x1="left" :x2="right" :y1="r.y" :y2="r.y" />
        <line v-if="r.lit" class="core" :x1="left" :x2="right" :y1="r.y" :y2="r.y" />
        <TrackGate
          v-for="s in r.stops"
          :key="s.element.id"
          :transform="`translate(${s.x} ${r.y})`"
          :element="s.element"
          :broken="false"
        />
        <text class="says" :x="(left + right) / 2" :y="r.y + 30">{{ r.says }}</text>
      </g>
    </svg>
    <ul class="seen-by-readers-only">
      <li v-for="(r, i) in rungs" :key="i">{{ r.says }}{{ r.lit ? '' : ', open' }}</li>
    </ul>
  </div>
</template>

<style scoped>
.ladder {
  width: 100%;
  min-width: 0;
  overflow: hidden;
}
svg {
  display: block;
}
text {
  fill: var(--ink);
  text-anchor: middle;
  font-size: 16px;
}
.end {
  font-weight: 700;
}
.upright {
  stroke: var(--ink);
  stroke-width: 6;
  stroke-linecap: round;
}
.upright.ground,
.upright.lit {
  stroke: var(--slate);
}
.rail {
  stroke: var(--dead);
  stroke-width: 3;
  stroke-dasharray: 6 5;
}
.lit .rail {
  stroke: var(--slate);
  stroke-width: 9;
  stroke-dasharray: none;
}
.core {
  stroke: var(--paper);
  stroke-width: 3;
}
.says {
  fill: var(--quiet);
}
.lit .says {
  fill: var(--slate);
  font-weight: 700;
}
</style>
