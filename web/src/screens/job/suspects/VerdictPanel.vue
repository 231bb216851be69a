<script setup lang="ts">
import { computed } from 'vue'
import type { DiagnosisView, JobView, TestView } from '../../../api/client'
import { percent } from '../../../words/numbers'
import { offWords } from '../../../words/temporary'
import { capital, list, sizeWords, suspectTitle, unitName } from '../../../words/units'
import FindingDetails from './FindingDetails.vue'
import { SAY } from '../../../words/say'

const props = defineProps<{
  job: JobView
  diagnosis: DiagnosisView
  busy: boolean
  /** What nobody looked at yet, when the job was to be closed. */
  unchecked?: string
}>()
const emit = defineEmits<{
  keep: [units: string[], note: string]
  takeBack: [verdict: string]
  correct: [drawing: string]
  close: [anyway?: boolean]
  reopen: []
  test: [test: TestView]
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
  <section v-if="kept" class="verdict" :aria-label="SAY.job.verdict" tabindex="-1">
    <h2>{{ nothing ? SAY.job.nothingFound : SAY.job.faultFound }}</h2>
    <p v-if="!nothing" class="what">{{ capital(list(kept.units.map(unitName), 'or')) }}</p>
    <p v-if="!nothing && kept.units.length > 1">{{ SAY.job.oneOfTheseTwoDo }}</p>
    <p v-if="!nothing">
      {{ percent(kept.probability) }} sure from the readings,
      {{ kept.confirmed ? SAY.job.confirmedByASecondKind : SAY.job.notConfirmed }}.
      {{ kept.recorded_by }}.
    </p>
    <p v-if="kept.note">{{ kept.note }}</p>
    <FindingDetails
      v-if="found && !nothing"
      :job="job"
      :found="found"
      @test="emit('test', $event)"
    />
    <div class="row">
      <template v-if="job.status === 'open'">
        <p v-if="job.still_off.length" class="off">
          {{ SAY.job.toPutBack }} {{ list(job.still_off.map(offWords), 'and') }}. Do that before you
          close.
        </p>
        <p v-if="job.jumper_on" class="off">{{ SAY.job.jumperCablesStillOn }}</p>
        <p v-if="unchecked" class="off" role="alert">
          <b>{{ unchecked }}</b> {{ SAY.job.orSayWhatItWas }}
        </p>
        <v-btn class="strong" :to="`/jobs/${job.id}/release`">{{ SAY.release.title }}</v-btn>
        <v-btn
          :disabled="busy || !!job.still_off.length || job.jumper_on"
          @click="emit('close', !!unchecked)"
          >{{ unchecked ? SAY.job.closeAnyway : SAY.job.closeJob }}</v-btn
        >
        <v-btn :disabled="busy" @click="emit('takeBack', kept.id)">{{ SAY.common.undo }}</v-btn>
      </template>
      <v-btn v-else :disabled="busy" @click="emit('reopen')">{{ SAY.common.openAgain }}</v-btn>
    </div>
  </section>
  <section
    v-else-if="found"
    class="verdict"
    :class="{ asks: found.confirmed }"
    :aria-label="SAY.job.verdict"
    role="status"
    tabindex="-1"
  >
    <h2>
      {{ found.confirmed ? SAY.common.found : SAY.job.almostSure }} ·
      {{ percent(found.probability) }}
    </h2>
    <p class="what">{{ suspectTitle(found) }}</p>
    <p v-if="found.size" class="size">{{ capital(sizeWords(found.size)) }}</p>
    <p v-if="found.units.length > 1">{{ SAY.job.cantTellTheseApartFrom }}</p>
    <p v-if="!found.confirmed">{{ SAY.job.oneMoreTestADifferent }}</p>
    <p v-if="job.usual">{{ SAY.job.restsOnUsualWiring }}</p>
    <p v-if="found.drawing">{{ SAY.job.orTheDrawingIsWrong }}</p>
    <FindingDetails :job="job" :found="found" @test="emit('test', $event)" />
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
        >{{ SAY.job.thatsIt }}</v-btn
      >
      <v-btn v-if="found.drawing" :disabled="busy" @click="emit('correct', found.drawing)">{{
        SAY.job.changeTheDrawing
      }}</v-btn>
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
