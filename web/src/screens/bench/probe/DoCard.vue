<script setup lang="ts">
/** The one thing to do next, in a frame. */
defineProps<{ label: string }>()
</script>

<template>
  <section class="card" :aria-label="label"><slot /></section>
</template>

<style scoped>
.card {
  display: grid;
  gap: 10px;
  padding: 12px 14px;
  border: 2px solid var(--ink);
  border-radius: 14px;
  background: var(--panel);
}
.card :slotted(p),
.card :slotted(dl) {
  margin: 0;
}
.card :slotted(.do) {
  font-size: 30px;
  font-weight: 700;
  line-height: 1.1;
}
</style>
