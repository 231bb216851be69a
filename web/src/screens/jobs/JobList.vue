<script setup lang="ts">
import type { JobSummary, StillOffView } from '../../api/client'
import RowList from '../../lists/RowList.vue'
import { clock, day } from '../../words/numbers'
import { capital, list, unitName } from '../../words/units'
import { SAY } from '../../words/say'
import { leftWords, offWords } from '../../words/temporary'

/** Jobs, a line each: in the shop's list, and as what a machine was in for before. */
defineProps<{ jobs: JobSummary[] }>()

function stand(job: JobSummary): string {
  if (job.soaking) return SAY.jobs.soaking
  const back = job.status === 'closed' && job.went_back
  const went = back === 'released' ? SAY.release.released : SAY.release.returned
  return back ? `${went}${job.verdict ? `. ${found(job)}` : ''}` : found(job)
}

/** What was left so first. */
const first = (job: JobSummary) => job.still_off[0] as StillOffView

function found(job: JobSummary): string {
  if (job.verdict) return `Fault found: ${list(job.verdict.units.map(unitName), 'or')}`
  if (job.readings === 0) return job.last_at ? 'Heard, nothing measured yet' : 'Not started'
  return `${job.readings} reading${job.readings === 1 ? '' : 's'}, no fault found yet`
}
</script>

<template>
  <RowList v-slot="{ row: job }" class="jobs" :rows="jobs" :to="(j) => `/jobs/${j.id}`">
    <span class="number mono">{{ job.number }}</span>
    <span class="machine"
      ><b>{{ job.make }} {{ job.model }}</b
      ><small>{{ job.tag }}</small
      ><small v-if="job.found.length" class="changed">{{ SAY.common.notAsBuilt }}</small
      ><small v-if="job.still_off.length" class="off"
        >{{ SAY.jobs.stillOff }} {{ list(job.still_off.map(offWords), 'and') }},
        {{ leftWords(first(job)) }}</small
      ></span
    >
    <span class="complaint"
      >{{ job.complaint }}<small>{{ job.owner }}</small></span
    >
    <span class="stand"
      >{{ capital(stand(job))
      }}<small
        >since {{ day(job.opened_at)
        }}<template v-if="job.last_at">, last entry {{ clock(job.last_at) }}</template></small
      ></span
    >
  </RowList>
</template>

<style scoped>
.jobs :deep(a) {
  grid-template-columns: 44px minmax(170px, 1fr) 2fr minmax(190px, 1.1fr);
}
.number {
  font-size: 24px;
  font-weight: 700;
  color: var(--ember);
}
.changed {
  font-weight: 700;
  color: var(--ochre);
}
.off {
  padding: 2px 6px;
  border-left: 6px solid var(--ochre);
  background: repeating-linear-gradient(135deg, var(--ochre-wash) 0 8px, transparent 8px 16px);
  font-weight: 700;
  color: var(--ink);
}
.complaint {
  font-size: 20px;
}
@media (max-width: 900px) {
  .jobs :deep(a) {
    grid-template-columns: 44px 1fr 1fr;
  }
  .complaint {
    grid-column: 2 / -1;
    grid-row: 1;
  }
  .machine {
    grid-column: 2;
  }
}
</style>
