<script setup lang="ts">
import { computed } from 'vue'
import type { DiagnosisView, JobView } from '../../api/client'
import { STATIONS, stationOf, type Station } from './stations'
import { SAY } from '../../words/say'

/** One line of work, and where it is now. */
const props = defineProps<{ job: JobView; diagnosis: DiagnosisView }>()

const NAMES: { [station in Station]: string } = {
  complaint: 'Complaint',
  test: 'Test',
  fault: 'Fault',
  repair: 'Repair',
  check: 'Check',
  'give-back': 'Give back',
}
const now = computed(() => stationOf(props.job, props.diagnosis))
const at = computed(() => STATIONS.indexOf(now.value))
</script>

<template>
  <nav class="no-print" :aria-label="SAY.job.whereThisJobIs">
    <ol class="stations">
      <li
        v-for="(station, i) in STATIONS"
        :key="station"
        :class="{ done: i < at, now: i === at }"
        :aria-current="i === at ? 'step' : undefined"
      >
        {{ NAMES[station] }}
      </li>
    </ol>
  </nav>
</template>

<style scoped>
.stations {
  display: flex;
  gap: 2px;
  margin: 0;
  padding: 4px 20px;
  overflow-x: auto;
  list-style: none;
  font-size: 14px;
  border-bottom: 1px solid var(--rule);
}
li {
  flex: 1 0 auto;
  padding: 3px 8px;
  text-align: center;
  white-space: nowrap;
  border-bottom: 4px solid var(--rule);
  color: var(--quiet);
}
.done {
  border-color: var(--moss);
  color: var(--ink);
}
.now {
  border-color: var(--ember);
  color: var(--ink);
  font-weight: 700;
}
@media (max-width: 600px) {
  .stations {
    padding: 2px 8px;
  }
  li {
    flex: 1 1 0;
    padding: 2px 0;
    font-size: 13px;
  }
}
</style>
