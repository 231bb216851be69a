<script setup lang="ts">
/** What stands over the card in bay view: spoken words, and the way back. */
defineProps<{ can: boolean; spoken: boolean }>()
const emit = defineEmits<{ speak: []; close: [] }>()
</script>

<template>
  <div class="tools">
    <v-btn v-if="can" height="56" :aria-pressed="spoken" @click="emit('speak')">{{
      spoken ? 'Voice is on' : 'Read it to me'
    }}</v-btn>
    <v-btn height="56" @click="emit('close')">Leave bay view</v-btn>
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
