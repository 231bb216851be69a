<script setup lang="ts">
import { computed, ref } from 'vue'
import { LOAD_WORDS, type Load } from '../words/loads'
import { ohms } from '../words/numbers'
import { SAY } from '../words/say'
import { useWidth } from './useWidth'

/** One load on a ruler of ohms, each mark twice the one before it: where a good one is, and where its ohms and its
 * amps put this one. */
const props = defineProps<{ load: Load }>()
const HEIGHT = 132
const SIDE = 16
const BAND = { top: 34, height: 22 }
const box = ref<HTMLElement | null>(null)
const width = useWidth(box, 520)

const LEAST = 1 / 8
const MOST = 8
const x = (value: number) => {
  const share = Math.log(value / props.load.ohms / LEAST) / Math.log(MOST / LEAST)
  return SIDE + Math.min(1, Math.max(0, share)) * (width.value - 2 * SIDE)
}
const ticks = computed(() => [-3, -2, -1, 0, 1, 2, 3].map((k) => props.load.ohms * 2 ** k))
const rows = computed(() => {
  const s = props.load.standing
  const row = (name: string, said: typeof s.by_ohms, y: number) =>
    said ? [{ name, y, ohms: said.ohms ?? undefined, open: said.word === 'open' }] : []
  return [...row(SAY.loads.byOhms, s.by_ohms, 74), ...row(SAY.loads.byAmps, s.by_amps, 96)]
})
const anchor = (at: number) => (at > width.value - 130 ? 'end' : 'start')
const beside = (at: number) => at + (anchor(at) === 'end' ? -10 : 10)
const says = computed(() => {
  const { low, high, standing } = props.load
  return `${SAY.loads.goodIs} ${ohms(low)} to ${ohms(high)} ohm; ${LOAD_WORDS[standing.word]}`
})
</script>

<template>
  <div ref="box">
    <svg :viewBox="`0 0 ${width} ${HEIGHT}`" role="img" :aria-label="says">
      <rect class="well" :x="SIDE" :y="BAND.top" :width="width - 2 * SIDE" :height="BAND.height" />
      <rect
        class="good"
        :x="x(load.low)"
        :y="BAND.top"
        :width="Math.max(6, x(load.high) - x(load.low))"
        :height="BAND.height"
      />
      <text class="name strong" :x="x(load.ohms)" y="22" text-anchor="middle">
        {{ SAY.loads.goodIs }} {{ ohms(load.ohms) }} ohm
      </text>
      <text class="name" :x="SIDE" y="22">{{ SAY.loads.shortedSide }}</text>
      <text class="name" :x="width - SIDE" y="22" text-anchor="end">{{ SAY.loads.openSide }}</text>
      <g v-for="r in rows" :key="r.name">
        <template v-if="r.ohms">
          <path class="span" :d="`M${x(r.ohms.low)} ${r.y}H${x(r.ohms.high)}`" />
          <path class="found" :d="`M${x(r.ohms.likely)} ${BAND.top - 4}V${r.y + 8}`" />
          <text
            class="name"
            :x="beside(x(r.ohms.high))"
            :y="r.y + 5"
            :text-anchor="anchor(x(r.ohms.high))"
          >
            {{ r.name }}: {{ ohms(r.ohms.likely) }}
          </text>
        </template>
        <text v-else class="name strong" :x="width - SIDE" :y="r.y + 5" text-anchor="end">
          {{ r.name }}: {{ SAY.loads.nothingThrough }}
        </text>
      </g>
      <text
        v-for="(t, i) in ticks"
        :key="t"
        class="tick"
        :x="x(t)"
        :y="HEIGHT - 4"
        :text-anchor="i === 0 ? 'start' : i === ticks.length - 1 ? 'end' : 'middle'"
      >
        {{ ohms(t) }}
      </text>
    </svg>
  </div>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 132px;
}
.well {
  fill: var(--well);
}
.good {
  fill: var(--moss);
  opacity: 0.55;
}
.span {
  stroke: var(--slate);
  stroke-width: 8;
  opacity: 0.5;
}
.found {
  stroke: var(--ink);
  stroke-width: 4;
}
text {
  fill: var(--ink);
  font-size: 14px;
}
.strong {
  font-weight: 700;
}
.tick {
  fill: var(--quiet);
  font-size: 13px;
}
</style>
