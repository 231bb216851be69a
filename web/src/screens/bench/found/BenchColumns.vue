<script setup lang="ts">
/** A view of the bench: what is known at the left, what to do at the right; on a tablet above it. */
defineProps<{
  /** What to do stands first where there is one column only. */
  doFirst?: boolean
}>()
</script>

<template>
  <div class="two" :class="{ first: doFirst }">
    <slot />
    <aside><slot name="aside" /></aside>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 400px;
  gap: 22px;
  align-items: start;
}
.two :deep(h2) {
  margin: 0 0 6px;
  font-size: 20px;
}
aside {
  display: grid;
  gap: 12px;
  min-width: 0;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
  .first aside {
    order: -1;
  }
}
@media print {
  .two {
    grid-template-columns: minmax(0, 1fr);
    gap: 8px;
  }
  .first aside {
    order: 0;
  }
}
</style>
