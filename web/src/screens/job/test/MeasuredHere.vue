<script setup lang="ts">
import { computed } from 'vue'
import type { JobView } from '../../../api/client'
import { observed } from '../../../words/observed'
import { conditionWords } from '../../../words/tests'
import { SAY } from '../../../words/say'

const props = defineProps<{ job: JobView; terminals: string[] }>()

/** Readings with a probe on this circuit, the newest first. */
const readings = computed(() => {
  const standing = props.job.evidence.filter((e) => !e.voided)
  const here = standing.filter((e) => {
    const seen = e.entry.observation
    return (
      seen.kind === 'reading' &&
      (props.terminals.includes(seen.red) || props.terminals.includes(seen.black))
    )
  })
  return here.reverse()
})
</script>

<template>
  <section :aria-label="SAY.job.measuredOnThisCircuit">
    <p v-if="!readings.length" class="quiet">{{ SAY.job.nothingMeasuredOnThisCircuit }}</p>
    <ul v-else>
      <li v-for="e in readings" :key="e.id">
        <b>{{ observed(job, e) }}</b>
        <span class="quiet">
          {{ conditionWords(job.controls, e.entry.condition, e.entry.engine, e.entry.idle) }}</span
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin: 4px 0 0;
  padding: 0;
  list-style: none;
  font-size: 17px;
}
li {
  padding: 4px 0;
  border-top: 1px solid var(--rule);
}
</style>
