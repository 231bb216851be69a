<script setup lang="ts">
import { ref } from 'vue'
import type { ReleaseView } from '../../api/client'
import { SAY } from '../../words/say'

/** A fuse: what belongs in it, and what is printed on the one that is. */
const props = defineProps<{ fuse: ReleaseView['fuses'][number]; open: boolean }>()
const emit = defineEmits<{ read: [amps: number] }>()
const typed = ref('')
const wrong = ref(false)

function read() {
  const amps = Number(typed.value.replace(',', '.').replace(/\s*a$/i, ''))
  wrong.value = !Number.isFinite(amps) || amps <= 0
  if (wrong.value) return
  emit('read', amps)
  typed.value = ''
}
</script>

<template>
  <form class="fuse" @submit.prevent="read">
    <span
      ><b>{{ props.fuse.name }}</b>
      <span class="quiet line">
        {{
          fuse.called_for == null ? 'size not in the drawing' : `${fuse.called_for} A called for`
        }}
      </span></span
    >
    <b
      v-if="fuse.read != null"
      :class="{ over: fuse.called_for != null && fuse.read > fuse.called_for }"
      >{{ fuse.read }} A in it</b
    >
    <template v-if="open">
      <v-text-field
        v-model="typed"
        :label="SAY.release.amps"
        :aria-label="`${SAY.release.amps}: ${fuse.name}`"
        inputmode="decimal"
        density="comfortable"
        :error="wrong"
        :messages="wrong ? SAY.release.noAmps : undefined"
        :hide-details="!wrong"
      />
      <v-btn
        v-if="fuse.called_for != null && fuse.read == null"
        height="48"
        @click="emit('read', fuse.called_for)"
        >{{ fuse.called_for }} A</v-btn
      >
      <v-btn type="submit" height="48" :disabled="!typed.trim()">{{ SAY.common.record }}</v-btn>
    </template>
  </form>
</template>

<style scoped>
.fuse {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  min-height: 52px;
  border-top: 1px solid var(--rule);
  font-size: 17px;
}
.fuse > span:first-child {
  flex: 1 1 150px;
}
.fuse :deep(.v-input) {
  flex: 0 1 180px;
}
.over {
  color: var(--plum);
}
.line {
  display: block;
}
</style>
