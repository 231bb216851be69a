<script setup lang="ts">
/** Two terminals, joined or apart: what should be is fine, what was found is bold. */
defineProps<{ made: boolean | undefined; bold?: boolean }>()
</script>

<template>
  <svg
    class="glyph"
    :class="{ bold }"
    width="34"
    height="16"
    viewBox="0 0 34 16"
    aria-hidden="true"
  >
    <path v-if="made" d="M7 11h20" />
    <path v-else-if="made === false" d="M9 10 24 3" />
    <path v-else class="asked" d="M9 11h16" />
    <circle cx="5" cy="11" r="3.4" />
    <circle cx="29" cy="11" r="3.4" />
  </svg>
</template>

<style scoped>
path,
circle {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.6;
  stroke-linecap: round;
}
.bold path {
  stroke-width: 4;
}
.bold circle {
  stroke-width: 2.2;
}
.asked {
  stroke-dasharray: 1 4;
}
</style>
