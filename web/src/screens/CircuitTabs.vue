<script setup lang="ts">
import type { CircuitName } from '../api/client'
import { SAY } from '../words/say'

defineProps<{ circuits: CircuitName[] }>()
/** The circuit that is shown. */
const shown = defineModel<string>({ required: true })
</script>

<template>
  <div class="circuits" role="group" :aria-label="SAY.common.circuits">
    <button
      v-for="c in circuits"
      :key="c.id"
      type="button"
      :aria-pressed="shown === c.id"
      @click="shown = c.id"
    >
      {{ c.name }}
    </button>
  </div>
</template>

<style scoped>
.circuits {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
button {
  min-height: 44px;
  padding: 0 12px;
  border-bottom: 4px solid transparent;
}
button[aria-pressed='true'] {
  border-color: var(--ember);
  font-weight: 700;
}
</style>
