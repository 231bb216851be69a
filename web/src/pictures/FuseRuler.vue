<script setup lang="ts">
import { computed, ref } from 'vue'
import { rated, rating, type Fuse } from '../words/fuses'
import { amps } from '../words/numbers'
import { SAY } from '../words/say'
import { useWidth } from './useWidth'

/** One fuse on a ruler of amps: its load as a bar, its size as a gate, and where its thinnest wire gets hot. */
const props = defineProps<{
  fuse: Fuse
  /** Amps at the right end, the same for every fuse of a machine. */
  most: number
}>()
const HEIGHT = 98
const SIDE = 10
const TOP = 30
const BAR = 20
const box = ref<HTMLElement | null>(null)
const width = useWidth(box, 520)
const x = (value: number) => SIDE + (value / props.most) * (width.value - 2 * SIDE)

const lasting = computed(() => props.fuse.carried.lasting?.amps ?? 0)
const moment = computed(() => props.fuse.carried.moment?.amps ?? 0)
const size = computed(() => rated(props.fuse))
/** One that is bigger than called for leaves a gap, and that is where the trouble is. */
const over = computed(() => {
  const { read, called_for: wanted } = props.fuse
  return read != null && wanted != null && read > wanted ? ([wanted, read] as const) : undefined
})
/** Words stand on the side where there is room. */
const anchor = (value: number) => (x(value) > width.value - 110 ? 'end' : 'start')
const beside = (value: number) => x(value) + (anchor(value) === 'end' ? -7 : 7)
const step = computed(() => (props.most > 60 ? 20 : props.most > 30 ? 10 : 5))
const ticks = computed(() =>
  Array.from({ length: Math.floor(props.most / step.value) + 1 }, (_, i) => i * step.value),
)
const says = computed(() => {
  const all = [`${SAY.fuses.load} ${amps(lasting.value)} A`]
  if (size.value != null) all.push(`${SAY.fuses.fuse} ${rating(size.value)} A`)
  if (props.fuse.thinnest) all.push(`${SAY.fuses.wireMark} ${amps(props.fuse.thinnest.amps)} A`)
  return all.join(', ')
})
</script>

<template>
  <div ref="box">
    <svg :viewBox="`0 0 ${width} ${HEIGHT}`" role="img" :aria-label="says">
      <rect class="well" :x="SIDE" :y="TOP" :width="width - 2 * SIDE" :height="BAR" />
      <rect
        v-if="over"
        class="over"
        :x="x(over[0])"
        :y="TOP"
        :width="x(over[1]) - x(over[0])"
        :height="BAR"
      />
      <rect
        v-if="moment > lasting"
        class="moment"
        :x="SIDE"
        :y="TOP + 5"
        :width="x(moment) - SIDE"
        :height="BAR - 10"
      />
      <rect class="load" :x="SIDE" :y="TOP" :width="x(lasting) - SIDE" :height="BAR" />
      <template v-if="fuse.thinnest">
        <path class="wire" :d="`M${x(fuse.thinnest.amps)} ${TOP - 2}V${TOP + BAR + 8}`" />
        <text
          class="name"
          :x="beside(fuse.thinnest.amps)"
          :y="TOP + BAR + 20"
          :text-anchor="anchor(fuse.thinnest.amps)"
        >
          {{ SAY.fuses.wireMark }} {{ amps(fuse.thinnest.amps) }} A
        </text>
      </template>
      <template v-if="size != null">
        <path class="gate" :d="`M${x(size)} ${TOP - 10}V${TOP + BAR}`" />
        <text class="name strong" :x="beside(size)" y="18" :text-anchor="anchor(size)">
          {{ rating(size) }} A {{ fuse.read == null ? SAY.fuses.calledFor : SAY.fuses.fitted }}
        </text>
      </template>
      <text
        v-for="t in ticks"
        :key="t"
        class="tick"
        :x="x(t)"
        :y="HEIGHT - 2"
        :text-anchor="t ? 'middle' : 'start'"
      >
        {{ t }}
      </text>
    </svg>
  </div>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 98px;
}
.well {
  fill: var(--well);
}
.load {
  fill: var(--slate);
}
.moment {
  fill: var(--dead);
}
.over {
  fill: var(--plum);
  opacity: 0.35;
}
.gate {
  stroke: var(--ink);
  stroke-width: 4;
}
.wire {
  stroke: var(--ochre);
  stroke-width: 4;
  stroke-dasharray: 6 4;
}
text {
  fill: var(--ink);
  font-size: 14px;
}
.strong {
  font-weight: 700;
  font-size: 15px;
}
.tick {
  fill: var(--quiet);
  font-size: 13px;
}
</style>
