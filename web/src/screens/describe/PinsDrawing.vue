<script setup lang="ts">
import { computed } from 'vue'

/** The mating face of a switch's plug: so many blades, in two rows from four on. */
const props = defineProps<{ pins: number }>()
const rows = computed(() => (props.pins > 2 ? 2 : 1))
const blades = computed(() =>
  Array.from({ length: props.pins }, (_, i) => ({
    x: 16 + 16 * Math.floor(i / rows.value),
    y: 15 + 14 * (i % rows.value),
  })),
)
const width = computed(() => 8 + 16 * Math.ceil(props.pins / rows.value))
const height = computed(() => 8 + 14 * rows.value)
</script>

<template>
  <svg :width="width + 8" :height="height + 8" aria-hidden="true">
    <rect x="4" y="4" :width="width" :height="height" rx="5" class="shell" />
    <rect v-for="(b, i) in blades" :key="i" :x="b.x - 4" :y="b.y - 2" width="8" height="5" rx="1" />
  </svg>
</template>

<style scoped>
.shell {
  fill: none;
  stroke: currentColor;
  stroke-width: 2;
}
rect {
  fill: currentColor;
}
</style>
