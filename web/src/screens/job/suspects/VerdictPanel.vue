<script setup lang="ts">
import { computed } from 'vue'
import type { DiagnosisView, JobView } from '../../../api/client'
import { percent } from '../../../words/numbers'
import { capital, list, suspectTitle, unitName } from '../../../words/units'
import FindingDetails from './FindingDetails.vue'

const props = defineProps<{ job: JobView; diagnosis: DiagnosisView; busy: boolean }>()
const emit = defineEmits<{
  keep: [units: string[]]
  takeBack: [verdict: string]
  close: []
  reopen: []
}>()

const kept = computed(() => props.job.verdicts.filter((v) => !v.voided).at(-1))
const found = computed(() => props.diagnosis.conclusion)
</script>

<template>
  <section v-if="kept" class="verdict" aria-label="Verdict">
    <h2>Verdict kept</h2>
    <p class="what">{{ capital(list(kept.units.map(unitName), 'or')) }}</p>
    <p>
      {{ percent(kept.probability) }},
      {{ kept.confirmed ? 'confirmed by a second kind of test' : 'not confirmed' }}.
      {{ kept.recorded_by }}.
    </p>
    <p v-if="kept.note">{{ kept.note }}</p>
    <FindingDetails v-if="found" :job="job" :found="found" />
    <div class="row">
      <template v-if="job.status === 'open'">
        <v-btn class="strong" :disabled="busy" @click="emit('close')">Close job</v-btn>
        <v-btn :disabled="busy" @click="emit('takeBack', kept.id)">Take back</v-btn>
      </template>
      <v-btn v-else :disabled="busy" @click="emit('reopen')">Open again</v-btn>
    </div>
  </section>
  <section v-else-if="found" class="verdict" aria-label="Verdict" role="status">
    <h2>{{ found.confirmed ? 'Found' : 'Nearly sure' }} · {{ percent(found.probability) }}</h2>
    <p class="what">{{ suspectTitle(found) }}</p>
    <p v-if="found.units.length > 1">
      No test at hand tells these apart: the verdict names them together.
    </p>
    <p v-if="!found.confirmed">One more test, of another kind, would confirm it.</p>
    <FindingDetails :job="job" :found="found" />
    <div class="row">
      <v-btn
        :class="{ strong: found.confirmed }"
        :disabled="busy"
        @click="
          emit(
            'keep',
            found.units.map((u) => u.id),
          )
        "
        >Keep verdict</v-btn
      >
    </div>
  </section>
</template>

<style scoped>
.verdict {
  padding: 14px 16px;
  border: 2px solid var(--moss);
  border-left-width: 10px;
  border-radius: 14px;
  background: var(--panel);
}
h2 {
  margin: 0;
  font-size: 16px;
  color: var(--moss);
}
p {
  margin: 4px 0;
}
.what {
  font-size: 22px;
  font-weight: 700;
  line-height: 1.2;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 10px;
}
</style>
