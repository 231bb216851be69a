<script setup lang="ts">
import type { SetUpEntry, StillOffView } from '../../api/client'
import { backWords, leftWords } from '../../words/temporary'
import { SAY } from '../../words/say'

/** What is still off or hangs on, each with one tap to say that it is back. It never goes away by itself. */
defineProps<{ off: StillOffView[]; jumperOn?: boolean; busy: boolean }>()
const emit = defineEmits<{ back: [what: SetUpEntry]; jumperOff: [] }>()
</script>

<template>
  <section v-if="off.length || jumperOn" class="off" :aria-label="SAY.common.toPutBack">
    <b v-if="off.length">{{ SAY.job.toPutBack }}</b>
    <span v-for="s in off" :key="backWords(s)" class="one">
      <v-btn :disabled="busy" @click="emit('back', s.entry)">{{ backWords(s) }}</v-btn>
      <span>{{ leftWords(s) }}</span>
    </span>
    <template v-if="jumperOn">
      <b>{{ SAY.job.jumperCablesOn }}</b>
      <v-btn :disabled="busy" @click="emit('jumperOff')">{{ SAY.job.jumperCablesAreOff }}</v-btn>
    </template>
  </section>
</template>

<style scoped>
.off {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  padding: 8px 12px;
  border: 2px solid var(--ochre);
  border-radius: 10px;
  background: repeating-linear-gradient(135deg, var(--ochre-wash) 0 8px, transparent 8px 16px);
}
.one {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 8px;
}
.off :deep(.v-btn) {
  background: var(--panel);
  height: auto !important;
  min-height: 44px;
  padding-block: 6px;
}
.off :deep(.v-btn__content) {
  white-space: normal;
}
</style>
