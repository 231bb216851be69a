<script setup lang="ts">
import { SAY } from '../words/say'
/** A large pad for gloves; it types into the field, and never opens the system's keyboard. */
const emit = defineEmits<{ key: [text: string]; back: [] }>()
const KEYS = ['7', '8', '9', '4', '5', '6', '1', '2', '3', '0', '.']
</script>

<template>
  <div class="pad" role="group" :aria-label="SAY.common.readingPad">
    <v-btn v-for="key in KEYS" :key="key" class="mono" @click="emit('key', key)">{{ key }}</v-btn>
    <v-btn :aria-label="SAY.input.deleteLast" @click="emit('back')">⌫</v-btn>
  </div>
</template>

<style scoped>
.pad {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 8px;
}
.pad :deep(.v-btn) {
  height: 56px !important;
  font-size: 22px;
}
</style>
