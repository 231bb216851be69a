<script setup lang="ts">
import { SAY } from '../../../words/say'
/** The two answers of a buzzer, large, each with its key. */
const emit = defineEmits<{ answer: [typed: 'buzz' | 'silent'] }>()
</script>

<template>
  <div class="answers" role="group" :aria-label="SAY.common.whatItDoes">
    <v-btn height="76" @click="emit('answer', 'buzz')"><kbd>z</kbd>&nbsp;Beeps</v-btn>
    <v-btn height="76" @click="emit('answer', 'silent')"><kbd>n</kbd>&nbsp;No beep</v-btn>
  </div>
</template>

<style scoped>
.answers {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.answers :deep(.v-btn) {
  font-size: 22px;
}
</style>
