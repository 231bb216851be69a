<script setup lang="ts">
import type { ReleaseStep } from '../../api/client'
import { SAY } from '../../words/say'

/** Every step with how it stands, and the end. */
defineProps<{ steps: ReleaseStep[]; at: number; left: number }>()
const emit = defineEmits<{ go: [step: number] }>()

const SIGN = { untried: '', good: '✓', bad: '✗', again: '↻' }
const SAYS = { untried: 'not done', good: 'good', bad: 'failed', again: 'to be done again' }
</script>

<template>
  <nav class="strip no-print" :aria-label="SAY.release.steps">
    <button
      v-for="(s, i) in steps"
      :key="i"
      :class="s.result.stands"
      :aria-current="at === i ? 'step' : undefined"
      :aria-label="`${SAY.release.step} ${i + 1}, ${SAYS[s.result.stands]}`"
      @click="emit('go', i)"
    >
      {{ i + 1 }}<span aria-hidden="true">{{ SIGN[s.result.stands] }}</span>
    </button>
    <button
      class="finish"
      :class="{ good: !left }"
      :aria-current="at === steps.length ? 'step' : undefined"
      @click="emit('go', steps.length)"
    >
      {{ SAY.release.finish }}<span v-if="!left" aria-hidden="true">✓</span>
    </button>
  </nav>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
button {
  min-width: 52px;
  min-height: 48px;
  padding: 0 8px;
  border: 2px solid var(--dead);
  font-weight: 700;
  font-size: 18px;
}
button span {
  margin-left: 3px;
}
.good {
  border-color: var(--moss);
  color: var(--moss);
}
.bad {
  border-color: var(--plum);
  background: var(--plum);
  color: var(--paper);
}
.again {
  border-color: var(--ochre);
  border-style: dashed;
  color: var(--ochre);
}
[aria-current] {
  box-shadow: inset 0 -6px 0 var(--ink);
}
.bad[aria-current] {
  box-shadow: inset 0 -6px 0 var(--paper);
}
.finish {
  min-width: 90px;
}
</style>
