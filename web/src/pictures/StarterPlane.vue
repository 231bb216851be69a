<script setup lang="ts">
import { computed, ref } from 'vue'
import type { DropsView } from '../api/client'
import { amps, volts } from '../words/numbers'
import { SAY } from '../words/say'
import { useWidth } from './useWidth'

/** A starter's volts against its amps while it cranks: in the band it is sound, under the line it is starved. */
const props = defineProps<{ plane: NonNullable<DropsView['walk']['starter']> }>()
const HEIGHT = 300
const LEFT = 44
const BELOW = 40
const box = ref<HTMLElement | null>(null)
const width = useWidth(box, 560)
const most = computed(() => ({
  amps: Math.max(1.7 * props.plane.sound_amps, 1.15 * props.plane.amps),
  volts: 13,
}))
const x = (value: number) => LEFT + (value / most.value.amps) * (width.value - LEFT - 12)
const y = (value: number) => HEIGHT - BELOW - (value / most.value.volts) * (HEIGHT - BELOW - 10)

/** A line of these ohms, to the edge. */
function edge(ohms: number): [number, number] {
  const { amps: right, volts: top } = most.value
  return ohms * right > top ? [top / ohms, top] : [right, ohms * right]
}
const band = computed(() => {
  const [low, high] = [edge(props.plane.least_ohms), edge(props.plane.most_ohms)]
  const corner = low[0] === most.value.amps ? [[most.value.amps, most.value.volts]] : []
  const all = [[0, 0], low, ...corner, high]
  return all.map(([a = 0, v = 0]) => `${x(a)},${y(v)}`).join(' ')
})
const ticks = computed(() => {
  const step = most.value.amps > 150 ? 50 : 25
  return Array.from({ length: Math.floor(most.value.amps / step) + 1 }, (_, i) => i * step)
})
/** The figure stands where there is room for it. */
const left = computed(() => x(props.plane.amps) > width.value - 130)
</script>

<template>
  <div ref="box">
    <svg
      :viewBox="`0 0 ${width} ${HEIGHT}`"
      role="img"
      :aria-label="`${SAY.drops.starterGets} ${volts(plane.volts)} V, ${amps(plane.amps)} A`"
    >
      <polygon class="band" :points="band" />
      <g v-for="v in [3, 6, 9, 12]" :key="v">
        <line class="grid" :x1="LEFT" :x2="width - 12" :y1="y(v)" :y2="y(v)" />
        <text class="tick" :x="LEFT - 8" :y="y(v) + 5" text-anchor="end">{{ v }}</text>
      </g>
      <text
        v-for="a in ticks"
        :key="a"
        class="tick"
        :x="x(a)"
        :y="HEIGHT - BELOW + 22"
        text-anchor="middle"
      >
        {{ a }}{{ a ? ' A' : '' }}
      </text>
      <line
        class="least"
        :x1="LEFT"
        :x2="width - 12"
        :y1="y(plane.least_volts)"
        :y2="y(plane.least_volts)"
      />
      <text class="tick" :x="LEFT + 6" :y="y(plane.least_volts) - 7">
        {{ SAY.drops.starvedUnder }} {{ volts(plane.least_volts) }} V
      </text>
      <text class="tick region" :x="x(plane.amps * 0.05) + 4" :y="y(11.9)">
        {{ SAY.drops.tooLittle }}
      </text>
      <text class="tick region" :x="width - 16" :y="y(0.9)" text-anchor="end">
        {{ SAY.drops.tooMuch }}
      </text>
      <circle class="sound" :cx="x(plane.sound_amps)" :cy="y(plane.sound_volts)" r="7" />
      <circle class="read" :cx="x(plane.amps)" :cy="y(plane.volts)" r="9" />
      <text
        class="value"
        :x="x(plane.amps) + (left ? -14 : 14)"
        :y="y(plane.volts) + 24"
        :text-anchor="left ? 'end' : 'start'"
      >
        {{ volts(plane.volts) }} V, {{ amps(plane.amps) }} A
      </text>
    </svg>
    <p class="quiet">{{ SAY.drops.planeSays }}</p>
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
.band {
  fill: var(--moss);
  fill-opacity: 0.2;
}
.least {
  stroke: var(--ochre);
  stroke-width: 3;
  stroke-dasharray: 10 6;
}
.sound {
  fill: var(--paper);
  stroke: var(--moss);
  stroke-width: 3;
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
.region {
  fill: var(--quiet);
}
.value {
  fill: var(--ink);
  font-size: 17px;
  font-weight: 700;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 5px;
}
p {
  margin: 4px 0 0;
  font-size: 15px;
}
</style>
