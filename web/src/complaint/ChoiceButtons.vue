<script setup lang="ts" generic="T">
import { useId } from 'vue'

/** A question, and its answers as large buttons. */
defineProps<{
  question: string
  choices: T[]
  says: (choice: T) => string
  chosen: T | undefined
}>()
const emit = defineEmits<{ choose: [choice: T] }>()
const id = useId()
</script>

<template>
  <p :id="id">
    <b>{{ question }}</b>
  </p>
  <div class="buttons" role="group" :aria-labelledby="id">
    <v-btn
      v-for="c in choices"
      :key="says(c)"
      height="56"
      :aria-pressed="c === chosen"
      @click="emit('choose', c)"
      >{{ says(c) }}</v-btn
    >
  </div>
</template>

<style scoped>
p {
  margin: 6px 0 0;
  font-size: 18px;
}
.buttons {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 8px;
}
.buttons :deep(.v-btn) {
  font-size: 17px;
}
.buttons :deep(.v-btn__content) {
  white-space: normal;
  line-height: 1.15;
}
.buttons :deep([aria-pressed='true']) {
  background: var(--ink);
  color: var(--paper);
}
</style>
