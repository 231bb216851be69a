<script setup lang="ts">
import { computed, ref } from 'vue'
import { volts } from '../words/numbers'
import type { Charging } from '../words/charging'
import { SAY } from '../words/say'
import { useWidth } from './useWidth'

/** Volts at the battery in three lanes: engine off, at idle, at full speed; where a good one is, and what was read. */
const props = defineProps<{ system: Charging }>()
const LANE = 40
const TOP = 6
const SIDE = 92
const END = 18
const HEIGHT = TOP + 3 * LANE + 26
const LEAST = 10
const MOST = 17
const box = ref<HTMLElement | null>(null)
const width = useWidth(box, 560)

const x = (value: number) =>
  SIDE +
  (Math.min(MOST, Math.max(LEAST, value)) - LEAST) * ((width.value - SIDE - END) / (MOST - LEAST))
const lanes = computed(() => {
  const { standing, regulated, low, high } = props.system
  const of = (kind: string) => standing.expected.find((e) => e.kind === kind)
  const full = regulated ? { low, high } : of('full')
  return [
    { name: SAY.charging.engineOff, read: standing.rest, good: of('rest') },
    { name: SAY.charging.idle, read: standing.idle, good: of('idle') },
    { name: SAY.charging.full, read: standing.full, good: full },
  ].map((lane, i) => ({ ...lane, y: TOP + i * LANE }))
})
const ticks = [10, 11, 12, 13, 14, 15, 16, 17]
const says = computed(() =>
  lanes.value.map((l) => `${l.name}: ${l.read == null ? '-' : `${volts(l.read)} V`}`).join(', '),
)
const anchor = (at: number) => (at > width.value - 90 ? 'end' : 'start')
</script>

<template>
  <div ref="box">
    <svg :viewBox="`0 0 ${width} ${HEIGHT}`" role="img" :aria-label="says">
      <g v-for="l in lanes" :key="l.name">
        <text class="name" x="0" :y="l.y + 25">{{ l.name }}</text>
        <rect class="well" :x="SIDE" :y="l.y + 6" :width="width - SIDE - END" :height="LANE - 12" />
        <rect
          class="over"
          :x="x(system.over)"
          :y="l.y + 6"
          :width="x(MOST) - x(system.over)"
          :height="LANE - 12"
        />
        <rect
          v-if="l.good"
          class="good"
          :x="x(l.good.low)"
          :y="l.y + 6"
          :width="Math.max(4, x(l.good.high) - x(l.good.low))"
          :height="LANE - 12"
        />
        <template v-if="l.read != null">
          <path class="read" :d="`M${x(l.read)} ${l.y + 1}v${LANE - 2}`" />
          <text
            class="value"
            :x="x(l.read) + (anchor(x(l.read)) === 'end' ? -8 : 8)"
            :y="l.y + 26"
            :text-anchor="anchor(x(l.read))"
          >
            {{ volts(l.read) }}
          </text>
        </template>
      </g>
      <text v-for="t in ticks" :key="t" class="tick" :x="x(t)" :y="HEIGHT - 6" text-anchor="middle">
        {{ t }}{{ t === 17 ? ' V' : '' }}
      </text>
    </svg>
    <p class="key">
      <span class="swatch good"></span>{{ SAY.charging.good }} <span class="swatch over"></span
      >{{ SAY.charging.over }}
    </p>
  </div>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 152px;
}
.well {
  fill: var(--well);
}
rect.good {
  fill: var(--moss);
  opacity: 0.5;
}
rect.over {
  fill: var(--plum);
  opacity: 0.35;
}
.read {
  stroke: var(--ink);
  stroke-width: 5;
}
text {
  fill: var(--ink);
  font-size: 15px;
}
.value {
  font-size: 18px;
  font-weight: 700;
  paint-order: stroke;
  stroke: var(--ground, var(--panel));
  stroke-width: 3px;
}
.tick {
  fill: var(--quiet);
  font-size: 13px;
}
.key {
  display: flex;
  align-items: center;
  gap: 6px;
  margin: 4px 0 0;
  font-size: 14px;
}
.swatch {
  width: 18px;
  height: 12px;
  margin-left: 8px;
}
.swatch.good {
  background: var(--moss);
  opacity: 0.5;
}
.swatch.over {
  background: var(--plum);
  opacity: 0.35;
}
</style>
