<script setup lang="ts">
import { computed } from 'vue'
import type { TravelView } from '../api/client'
import { SAY } from '../words/say'

/** A slow stroke: made or open over the travel, in and out, dead spots hatched. */
const props = defineProps<{
  travels: TravelView[]
  /** Where the stroke is now, in percent. */
  at: number
  way: 'in' | 'out'
}>()

const WIDTH = 720
const LEFT = 70
const RIGHT = 20
const x = (travel: number) => LEFT + ((WIDTH - LEFT - RIGHT) * travel) / 100
const lanes = computed(() =>
  (['in', 'out'] as const).map((way, i) => ({
    way,
    y: 50 + i * 76,
    travel: props.travels.find((t) => t.way === way),
  })),
)
const words = (t: TravelView) => {
  const change = t.changes_at == null ? 'never changes' : `changes at ${Math.round(t.changes_at)}%`
  const dead = t.dead.map((d) => `${Math.round(d.from)} to ${Math.round(d.to)}%`)
  return dead.length ? `${change}, dead spot at ${dead.join(', ')}` : change
}
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDTH} 200`"
    role="img"
    :aria-label="
      travels.map((t) => `Going ${t.way}: ${words(t)}`).join('. ') || SAY.pictures.noStrokeYet
    "
  >
    <defs>
      <pattern id="dead" width="8" height="8" patternUnits="userSpaceOnUse">
        <path d="M0 8 8 0" class="hatch" />
      </pattern>
    </defs>
    <g v-for="tick in [0, 25, 50, 75, 100]" :key="tick">
      <line class="tick" :x1="x(tick)" :x2="x(tick)" y1="24" y2="158" />
      <text :x="x(tick)" y="178">{{ tick }}%{{ ' ' }}</text>
    </g>
    <text class="end" :x="x(0)" y="196">released{{ ' ' }}</text>
    <text class="end" :x="x(100) - 26" y="196">pressed in{{ ' ' }}</text>
    <g v-for="lane in lanes" :key="lane.way">
      <text class="way" x="8" :y="lane.y + 6">
        {{ lane.way === 'in' ? SAY.pictures.in : SAY.pictures.out }}{{ ' ' }}
      </text>
      <line class="travel" :x1="x(0)" :x2="x(100)" :y1="lane.y" :y2="lane.y" />
      <template v-if="lane.travel">
        <rect
          v-for="(b, i) in lane.travel.bands.filter((b) => b.made)"
          :key="`m${i}`"
          class="made"
          :x="x(b.from)"
          :y="lane.y - 9"
          :width="Math.max(x(b.to) - x(b.from), 3)"
          height="18"
        />
        <rect
          v-for="(b, i) in lane.travel.dead"
          :key="`d${i}`"
          class="dead"
          :x="x(b.from)"
          :y="lane.y - 17"
          :width="Math.max(x(b.to) - x(b.from), 3)"
          height="34"
        />
        <line
          v-for="(p, i) in lane.travel.points"
          :key="`p${i}`"
          class="point"
          :class="{ made: p.made }"
          :x1="x(p.travel)"
          :x2="x(p.travel)"
          :y1="lane.y + 12"
          :y2="lane.y + 20"
        />
        <text class="says" :x="x(50)" :y="lane.y + 36">{{ words(lane.travel) }}{{ ' ' }}</text>
      </template>
      <path v-if="lane.way === way" class="now" :d="`M${x(at)} ${lane.y - 14}l-8 -13h16z`" />
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
}
.tick {
  stroke: var(--rule);
}
.travel {
  stroke: var(--dead);
  stroke-width: 3;
  stroke-dasharray: 5 5;
}
.made {
  fill: var(--ink);
}
.dead {
  fill: url(#dead);
  stroke: var(--plum);
  stroke-width: 2.5;
}
.hatch {
  stroke: var(--plum);
  stroke-width: 2;
}
.point {
  stroke: var(--dead);
  stroke-width: 2;
}
.point.made {
  stroke: var(--ink);
}
.now {
  fill: var(--ember);
}
text {
  text-anchor: middle;
  fill: var(--ink);
  font-size: 15px;
}
.way,
.says {
  font-weight: 700;
}
.way {
  text-anchor: start;
}
.end {
  fill: var(--quiet);
}
</style>
