<script setup lang="ts">
import { computed } from 'vue'
import type { DiagnosisView, JobView } from '../../../api/client'
import { percent } from '../../../words/numbers'
import { offWords } from '../../../words/temporary'
import { capital, list, suspectTitle, unitName } from '../../../words/units'
import FindingDetails from './FindingDetails.vue'

const props = defineProps<{ job: JobView; diagnosis: DiagnosisView; busy: boolean }>()
const emit = defineEmits<{
  keep: [units: string[], note: string]
  takeBack: [verdict: string]
  close: []
  reopen: []
}>()

const kept = computed(() => props.job.verdicts.filter((v) => !v.voided).at(-1))
const nothing = computed(() => kept.value?.units.some((u) => u.kind === 'nothing'))
/** After a repair what is found is that nothing is wrong any more. */
const found = computed(() => {
  const own = props.diagnosis.conclusion
  return own?.units.some((u) => u.kind === 'nothing') && kept.value ? undefined : own
})
</script>

<template>
  <section v-if="kept" class="verdict" aria-label="Verdict">
    <h2>{{ nothing ? 'Nothing found' : 'Fault found' }}</h2>
    <p v-if="!nothing" class="what">{{ capital(list(kept.units.map(unitName), 'or')) }}</p>
    <p v-if="!nothing && kept.units.length > 1">One of these two. Do both.</p>
    <p v-if="!nothing">
      {{ percent(kept.probability) }} sure from the readings,
      {{ kept.confirmed ? 'confirmed by a second kind of test' : 'not confirmed' }}.
      {{ kept.recorded_by }}.
    </p>
    <p v-if="kept.note">{{ kept.note }}</p>
    <FindingDetails v-if="found && !nothing" :job="job" :found="found" />
    <div class="row">
      <template v-if="job.status === 'open'">
        <p v-if="job.still_off.length" class="off">
          Still off: {{ list(job.still_off.map(offWords), 'and') }}. Put it back before you close.
        </p>
        <v-btn class="strong" :disabled="busy || !!job.still_off.length" @click="emit('close')"
          >Close job</v-btn
        >
        <v-btn :disabled="busy" @click="emit('takeBack', kept.id)">Undo</v-btn>
      </template>
      <v-btn v-else :disabled="busy" @click="emit('reopen')">Open again</v-btn>
    </div>
  </section>
  <section v-else-if="found" class="verdict" aria-label="Verdict" role="status">
    <h2>{{ found.confirmed ? 'Found' : 'Almost sure' }} · {{ percent(found.probability) }}</h2>
    <p class="what">{{ suspectTitle(found) }}</p>
    <p v-if="found.units.length > 1">Can’t tell these apart from here. Do both.</p>
    <p v-if="!found.confirmed">One more test, a different kind, will confirm it.</p>
    <FindingDetails :job="job" :found="found" />
    <div v-if="job.status === 'open'" class="row">
      <v-btn
        :class="{ strong: found.confirmed }"
        :disabled="busy"
        @click="
          emit(
            'keep',
            found.units.map((u) => u.id),
            '',
          )
        "
        >That’s it</v-btn
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
.off {
  flex-basis: 100%;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 10px;
}
</style>
