<script setup lang="ts">
import type { FoundView } from '../api/client'

defineProps<{ found: FoundView[] }>()
</script>

<template>
  <aside v-if="found.length" class="found" aria-label="Not as built">
    <b>Not as the maker built it.</b>
    <span v-for="f in found" :key="f.change">
      {{ f.note }} <code class="mono">{{ f.change }}</code></span
    >
    <span> Put it right before anything else is called safe.</span>
  </aside>
</template>

<style scoped>
.found {
  margin: 0 20px;
  padding: 10px 14px;
  border-left: 8px solid var(--ochre);
  font-size: 17px;
  background: repeating-linear-gradient(135deg, var(--ochre-wash) 0 10px, transparent 10px 20px);
}
b,
span {
  background: var(--paper);
  box-decoration-break: clone;
  padding: 2px 4px;
}
code {
  font-size: 14px;
}
</style>
