<script setup lang="ts">
import { SAY } from '../../../words/say'
/** What stands over the card in bay view: spoken words, and the way back. */
defineProps<{ can: boolean; spoken: boolean }>()
const emit = defineEmits<{ speak: []; close: [] }>()
</script>

<template>
  <div class="tools">
    <v-btn v-if="can" height="56" :aria-pressed="spoken" @click="emit('speak')">{{
      spoken ? SAY.job.voiceIsOn : SAY.job.readItToMe
    }}</v-btn>
    <v-btn height="56" @click="emit('close')">{{ SAY.job.leaveBayView }}</v-btn>
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.tools :deep(.v-btn) {
  flex: 1;
}
</style>
