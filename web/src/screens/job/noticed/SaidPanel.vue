<script setup lang="ts">
import { SAY } from '../../../words/say'

/** What is said of the machine besides the test: its question, its answers, and Done. */
defineProps<{ title: string }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <section class="said">
    <div class="head">
      <b>{{ title }}</b>
      <v-btn size="small" @click="emit('close')">{{ SAY.common.done }}</v-btn>
    </div>
    <slot />
  </section>
</template>

<style scoped>
.said {
  display: grid;
  gap: 10px;
  padding: 12px 14px;
  border: 2px solid var(--ink);
  border-radius: 14px;
  background: var(--panel);
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
</style>
