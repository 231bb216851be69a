<script setup lang="ts">
import type { EvidenceView, JobView } from '../../api/client'
import { clock, dateAndDay } from '../../words/numbers'
import { observed } from '../../words/observed'
import { conditionWords } from '../../words/tests'
import { SAY } from '../../words/say'

/** Entries of the log on paper. */
defineProps<{ job: JobView; entries: EvidenceView[]; none: string; signed?: boolean }>()
</script>

<template>
  <ol v-if="entries.length">
    <li v-for="e in entries" :key="e.id">
      <b>{{ observed(job, e) }}</b>
      <small
        >{{ conditionWords(job.controls, e.entry.condition, e.entry.engine, e.entry.idle)
        }}<template v-if="e.entry.source === 'told'"> {{ ` ${SAY.sheet.customerSays}` }}</template
        ><template v-if="signed && e.recorded_at">
          · {{ dateAndDay(e.recorded_at) }}, {{ clock(e.recorded_at) }} ·
          {{ e.recorded_by }}</template
        ><template v-if="e.voided"> · undone: {{ e.voided.reason }}</template></small
      >
    </li>
  </ol>
  <p v-else>{{ none }}</p>
</template>

<style scoped>
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 3px 0;
  border-top: 1px solid var(--rule);
  break-inside: avoid;
}
small {
  display: block;
  font-size: 13px;
  color: var(--quiet);
}
p {
  margin: 2px 0;
}
</style>
