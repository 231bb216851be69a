<script setup lang="ts">
import { computed, ref } from 'vue'
import type { BatteryView } from '../api/client'
import { volts } from '../words/numbers'
import { SAY } from '../words/say'
import { useWidth } from './useWidth'

/** Volts at the posts before, under and after a load: where they lie if the battery is what it is taken
 * for, and what was read. */
const props = defineProps<{
  curve: BatteryView['standing']['curve']
  /** Under this the starter lets go. */
  letsGo: number | undefined
}>()

const box = ref<HTMLElement | null>(null)
/** In pixels, so that its words are as large on a phone. */
const width = useWidth(box, 640)
const HEIGHT = 300
const LEFT = 52
const RIGHT = 16
const TOP = 16
const BOTTOM = 44

/** The load is given half of the width, whatever its length. */
const x = (seconds: number) => {
  const room = width.value - LEFT - RIGHT
  const load = props.curve.seconds
  const last = props.curve.band.at(-1)?.seconds ?? load
  if (seconds <= 0) return LEFT + room * 0.16 * (1 + Math.max(seconds, -10) / 10)
  if (seconds <= load) return LEFT + room * (0.16 + (0.44 * seconds) / load)
  return LEFT + room * (0.6 + (0.4 * (seconds - load)) / Math.max(last - load, 1))
}
const range = computed(() => {
  const all = props.curve.band.flatMap((b) => [b.low, b.high])
  all.push(...props.curve.read.map((r) => r.volts))
  const [low, high] = [Math.min(...all), Math.max(...all)]
  const near = props.letsGo !== undefined && props.letsGo > low - 2.5 ? props.letsGo : low
  return {
    low: Math.floor(Math.min(low, near) * 2) / 2 - 0.25,
    high: Math.ceil(high * 2) / 2 + 0.25,
  }
})
const y = (at: number) => {
  const { low, high } = range.value
  return TOP + ((HEIGHT - TOP - BOTTOM) * (high - at)) / (high - low)
}
const ticks = computed(() => {
  const { low, high } = range.value
  const step = high - low > 4 ? 2 : high - low > 2 ? 1 : 0.5
  const first = Math.ceil(low / step) * step
  return Array.from({ length: Math.floor((high - first) / step) + 1 }, (_, i) => first + i * step)
})
const line = (of: 'low' | 'middle' | 'high') =>
  props.curve.band.map((b) => `${x(b.seconds).toFixed(1)},${y(b[of]).toFixed(1)}`)
const area = computed(() => `M${[...line('low'), ...line('high').reverse()].join('L')}Z`)
const says = computed(() => {
  const end = props.curve.band.find((b) => b.seconds >= props.curve.seconds)
  const expected = end ? `${volts(end.low)} to ${volts(end.high)} V at the end of the load` : ''
  const read = props.curve.read.map((r) => `${volts(r.volts)} V`).join(', ')
  return `${expected}${read ? `. Read: ${read}` : ''}.`
})
</script>

<template>
  <div ref="box">
    <svg :viewBox="`0 0 ${width} ${HEIGHT}`" role="img" :aria-label="says">
      <g v-for="t in ticks" :key="t">
        <line class="grid" :x1="LEFT" :x2="width - RIGHT" :y1="y(t)" :y2="y(t)" />
        <text class="tick" :x="LEFT - 8" :y="y(t) + 5" text-anchor="end">{{ t.toFixed(1) }}</text>
      </g>
      <rect
        class="load"
        :x="x(0)"
        :y="TOP"
        :width="x(curve.seconds) - x(0)"
        :height="HEIGHT - TOP - BOTTOM"
      />
      <path class="band" :d="area" />
      <polyline class="middle" :points="line('middle').join(' ')" />
      <template v-if="letsGo !== undefined && letsGo > range.low">
        <line class="lets-go" :x1="LEFT" :x2="width - RIGHT" :y1="y(letsGo)" :y2="y(letsGo)" />
        <text class="tick" :x="width - RIGHT" :y="y(letsGo) - 6" text-anchor="end">
          {{ SAY.battery.starterLetsGo }}
        </text>
      </template>
      <g v-for="(r, i) in curve.read" :key="i">
        <circle class="read" :cx="x(r.seconds)" :cy="y(r.volts)" r="8" />
        <text class="value" :x="x(r.seconds)" :y="y(r.volts) - 16" text-anchor="middle">
          {{ volts(r.volts) }}
        </text>
      </g>
      <text class="tick" :x="(x(-10) + x(0)) / 2" :y="HEIGHT - 16" text-anchor="middle">
        {{ SAY.battery.atRest }}
      </text>
      <text class="tick" :x="(x(0) + x(curve.seconds)) / 2" :y="HEIGHT - 16" text-anchor="middle">
        {{ curve.amps.toFixed(curve.amps < 20 ? 1 : 0) }} A, {{ curve.seconds.toFixed(0) }} s
      </text>
      <text
        class="tick"
        :x="(x(curve.seconds) + width - RIGHT) / 2"
        :y="HEIGHT - 16"
        text-anchor="middle"
      >
        {{ SAY.battery.loadOff }}
      </text>
    </svg>
  </div>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: auto;
}
.grid {
  stroke: var(--rule);
}
.load {
  fill: var(--well);
}
.band {
  fill: var(--slate);
  fill-opacity: 0.28;
}
.middle {
  fill: none;
  stroke: var(--slate);
  stroke-width: 3;
}
.lets-go {
  stroke: var(--plum);
  stroke-width: 3;
  stroke-dasharray: 10 6;
}
.read {
  fill: var(--ember);
  stroke: var(--paper);
  stroke-width: 2;
}
.tick {
  fill: var(--ink);
  font-size: 15px;
}
.value {
  fill: var(--ink);
  font-size: 17px;
  font-weight: 700;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 5px;
}
</style>
