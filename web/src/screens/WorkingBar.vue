<script setup lang="ts">
import { computed } from 'vue'
import { working } from '../api/patience'
import { SAY } from '../words/say'

/** How far an answer is that takes long, and a way to give it up. */
const props = defineProps<{ path: string; says: string }>()
const emit = defineEmits<{ stop: [] }>()
const share = computed(() => working.get(props.path))
const percent = computed(() => (share.value == null ? undefined : Math.round(share.value * 100)))
</script>

<template>
  <div class="working" role="status">
    <p>
      {{ says }} <b v-if="percent != null" class="mono">{{ percent }} %</b>
    </p>
    <progress :value="percent" max="100" :aria-label="SAY.shell.doneSoFar" />
    <v-btn size="small" @click="emit('stop')">{{ SAY.shell.stop }}</v-btn>
  </div>
</template>

<style scoped>
.working {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
  margin: 8px 0;
  font-size: 17px;
}
p {
  flex: 1 1 100%;
  margin: 0;
}
progress {
  flex: 1 1 200px;
  max-width: 420px;
  height: 14px;
  accent-color: var(--ember);
}
</style>
