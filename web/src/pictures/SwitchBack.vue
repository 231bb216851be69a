<script setup lang="ts">
import { computed } from 'vue'
import type { Subject } from '../api/client'
import { spots } from './switchDrawing'
import { SAY } from '../words/say'

/** A switch from the back, where its plug goes on, with the probes on it. */
const props = defineProps<{
  subject: Subject
  red: string | undefined
  black: string | undefined
}>()
const SIZE = 250
const all = computed(() =>
  spots(props.subject).map((s) => ({ ...s, x: 25 + s.x * 20, y: 19 + s.y * 20 })),
)
const drawn = computed(() => !!props.subject.profile)
</script>

<template>
  <figure>
    <svg
      :viewBox="`0 0 ${SIZE} ${SIZE - 12}`"
      role="img"
      :aria-label="`Switch from the back; red on ${red ?? 'nothing'}, black on ${black ?? 'nothing'}`"
    >
      <circle class="body" cx="125" cy="119" r="113" />
      <circle class="hub" cx="125" cy="119" r="16" />
      <g v-for="s in all" :key="s.id" :transform="`translate(${s.x} ${s.y})`">
        <circle v-if="s.id === red" class="red" r="27" />
        <circle v-if="s.id === black" class="black" r="27" />
        <rect class="blade" x="-17" y="-15" width="34" height="30" rx="6" />
        <text class="id" y="6">{{ s.id }}{{ ' ' }}</text>
        <text v-if="s.id === red" class="probe" :y="s.y > 60 ? -30 : 42">RED{{ ' ' }}</text>
        <text v-if="s.id === black" class="probe" :y="s.y > 60 ? -30 : 42">BLACK{{ ' ' }}</text>
      </g>
    </svg>
    <figcaption class="quiet">
      {{ drawn ? SAY.pictures.fromTheBackAsUsually : SAY.pictures.whereTheySitIsNot }}
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  max-height: 236px;
}
.body {
  fill: var(--well);
  stroke: var(--ink);
  stroke-width: 2;
}
.hub {
  fill: none;
  stroke: var(--dead);
  stroke-width: 2;
}
.blade {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2;
}
.red {
  fill: none;
  stroke: var(--ember);
  stroke-width: 6;
}
.black {
  fill: none;
  stroke: var(--ink);
  stroke-width: 6;
  stroke-dasharray: 9 5;
}
text {
  text-anchor: middle;
  fill: var(--ink);
  font-size: 16px;
}
.id {
  font-weight: 700;
}
.probe {
  font-size: 15px;
  font-weight: 700;
  paint-order: stroke;
  stroke: var(--well);
  stroke-width: 4px;
}
figcaption {
  font-size: 14px;
  text-align: center;
}
@media print {
  svg {
    max-height: 170px;
  }
  .red,
  .black,
  .probe {
    display: none;
  }
}
</style>
