<script setup lang="ts">
import type { JobSummary } from '../../api/client'
import { clock, day } from '../../words/numbers'
import { capital, list, unitName } from '../../words/units'
import { SAY } from '../../words/say'

/** Jobs, a line each: in the shop's list, and as what a machine was in for before. */
defineProps<{ jobs: JobSummary[] }>()

function stand(job: JobSummary): string {
  if (job.verdict) return `Fault found: ${list(job.verdict.units.map(unitName), 'or')}`
  if (job.readings === 0) return job.last_at ? 'Heard, nothing measured yet' : 'Not started'
  return `${job.readings} reading${job.readings === 1 ? '' : 's'}, no fault found yet`
}
</script>

<template>
  <ul>
    <li v-for="job in jobs" :key="job.id">
      <router-link :to="`/jobs/${job.id}`">
        <span class="number mono">{{ job.number }}</span>
        <span class="machine"
          ><b>{{ job.make }} {{ job.model }}</b
          ><small>{{ job.tag }}</small
          ><small v-if="job.found.length" class="changed">{{ SAY.common.notAsBuilt }}</small></span
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
      </router-link>
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 2px solid var(--ink);
}
li {
  border-bottom: 1px solid var(--rule);
}
a {
  display: grid;
  grid-template-columns: 44px minmax(170px, 1fr) 2fr minmax(190px, 1.1fr);
  gap: 4px 18px;
  align-items: baseline;
  padding: 14px 8px;
  color: var(--ink);
  text-decoration: none;
  font-size: 18px;
}
a:hover {
  background: var(--well);
}
.number {
  font-size: 24px;
  font-weight: 700;
  color: var(--ember);
}
small {
  display: block;
  font-size: 15px;
  color: var(--quiet);
}
a:hover small {
  color: var(--ink);
}
.changed {
  font-weight: 700;
  color: var(--ochre);
}
.complaint {
  font-size: 20px;
}
@media (max-width: 900px) {
  a {
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
