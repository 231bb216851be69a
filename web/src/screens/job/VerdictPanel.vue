<script setup lang="ts">
import { computed } from 'vue'
import type { DiagnosisView, JobView } from '../../api/client'
import { strainWords } from '../../words/doubts'
import { percent } from '../../words/numbers'
import { observed } from '../../words/observed'
import { capital, failing, list, suspectTitle, unitName } from '../../words/units'

const props = defineProps<{ job: JobView; diagnosis: DiagnosisView; busy: boolean }>()
const emit = defineEmits<{
  keep: [units: string[]]
  takeBack: [verdict: string]
  close: []
  reopen: []
}>()

const kept = computed(() => props.job.verdicts.filter((v) => !v.voided).at(-1))
const found = computed(() => props.diagnosis.conclusion)

const restsOn = computed(() =>
  (found.value?.rests_on ?? []).flatMap((sequence) => {
    const entry = props.job.evidence.find((e) => e.sequence === sequence)
    return entry ? [observed(props.job, entry)] : []
  }),
)
const causes = computed(() =>
  (found.value?.causes ?? []).map((c) => {
    const what = failing(c.unit, c.mode, c.element)
    return `${what}: ${strainWords(c.by)}`
  }),
)
const harms = computed(() => (found.value?.harms ?? []).map((h) => capital(strainWords(h))))
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
    <p v-if="restsOn.length"><b>Rests on:</b> {{ restsOn.join('; ') }}.</p>
    <template v-if="causes.length">
      <p><b>What may have caused it.</b> Look before a new part goes in:</p>
      <ul>
        <li v-for="cause in causes" :key="cause">{{ cause }}.</li>
      </ul>
    </template>
    <template v-if="harms.length">
      <p><b>What it may have harmed:</b></p>
      <ul>
        <li v-for="harm in harms" :key="harm">{{ harm }}.</li>
      </ul>
    </template>
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
ul {
  margin: 0 0 4px;
  padding-left: 18px;
  line-height: 1.3;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 10px;
}
</style>
