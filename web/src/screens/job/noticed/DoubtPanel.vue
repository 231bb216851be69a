<script setup lang="ts">
import { computed, ref } from 'vue'
import type { DiagnosisView, EvidenceView, JobView, Observed } from '../../../api/client'
import { explanationWords } from '../../../words/doubts'
import { percent } from '../../../words/numbers'
import { observed } from '../../../words/observed'
import { conditionWords } from '../../../words/tests'
import RepairCard from '../repair/RepairCard.vue'
import { SAY } from '../../../words/say'

const props = defineProps<{ job: JobView; diagnosis: DiagnosisView; busy: boolean }>()
const emit = defineEmits<{
  void: [entry: string, reason: string]
  atTimes: [entry: EvidenceView]
  fixed: [entry: EvidenceView, repairs: Observed[]]
}>()

const REASON = {
  'wrong-point': 'Wrong point',
  'wrong-setting': 'Wrong range',
  'other-condition': 'Control not held',
} as const

const entryOf = (sequence: number) => props.job.evidence.find((e) => e.sequence === sequence)

const misfit = computed(() => {
  const found = props.diagnosis.misfit
  const entry = found && entryOf(found.sequence)
  if (!found || !entry) return undefined
  return {
    entry,
    words: observed(props.job, entry),
    ways: found.explanations.map((e) => ({
      reason: REASON[e.kind],
      share: percent(e.share),
      words: explanationWords(props.job.controls, entry.entry.condition, e),
    })),
  }
})

const contradiction = computed(() => {
  const first = props.diagnosis.contradictions[0]
  const one = first && entryOf(first.one)
  const other = first && entryOf(first.other)
  if (!one || !other) return undefined
  const at = conditionWords(props.job.controls, one.entry.condition, one.entry.engine)
  return { one, other, at, words: [one, other].map((e) => observed(props.job, e)) }
})

/** Something was repaired between the two. */
const fixing = ref(false)
const suspected = computed(() => props.diagnosis.suspects.slice(0, 2).flatMap((s) => s.units))

function fixed(repairs: Observed[]) {
  fixing.value = false
  if (contradiction.value) emit('fixed', contradiction.value.other, repairs)
}
</script>

<template>
  <section
    v-if="contradiction"
    class="doubt"
    role="alert"
    :aria-label="SAY.job.theseTwoDontAgree"
    tabindex="-1"
  >
    <p>
      <b>{{ SAY.job.theseTwoDontAgreeTitle }}</b> {{ contradiction.at }}:
    </p>
    <ul>
      <li v-for="words in contradiction.words" :key="words">{{ words }}</li>
    </ul>
    <div class="row">
      <v-btn :disabled="busy" :aria-expanded="fixing" @click="fixing = !fixing">{{
        SAY.job.iFixedItInBetween
      }}</v-btn>
      <v-btn :disabled="busy" @click="emit('atTimes', contradiction.other)">{{
        SAY.job.itsOffAndOn
      }}</v-btn>
      <v-btn :disabled="busy" @click="emit('void', contradiction.one.id, 'Contradicted')">{{
        SAY.job.theFirstWasWrong
      }}</v-btn>
      <v-btn :disabled="busy" @click="emit('void', contradiction.other.id, 'Contradicted')">{{
        SAY.job.theSecondWasWrong
      }}</v-btn>
    </div>
    <RepairCard
      v-if="fixing"
      :job="job"
      :units="suspected"
      :busy="busy"
      :title="SAY.job.whatDidYouDoIn"
      @repaired="fixed"
    />
  </section>
  <section
    v-else-if="misfit"
    class="doubt"
    role="status"
    :aria-label="SAY.job.thisReadingDoesntFit"
    tabindex="-1"
  >
    <p>
      <b>{{ SAY.job.thisReadingDoesntFitCheck }}</b> {{ misfit.words.replace(/\.$/, '') }}.
    </p>
    <ol v-if="misfit.ways.length">
      <li v-for="way in misfit.ways" :key="way.words">
        <span
          ><b class="mono">{{ way.share }}</b> {{ way.words }}</span
        >
        <v-btn size="small" :disabled="busy" @click="emit('void', misfit.entry.id, way.reason)">{{
          SAY.job.yesUndoIt
        }}</v-btn>
      </li>
    </ol>
    <p class="quiet">
      <template v-if="misfit.ways.length">{{ SAY.job.noneOfThese }}</template>
      <template v-else>{{ SAY.job.noOtherPointRangeOr }}</template>
      {{ SAY.job.measureItAgainIfYou }}
    </p>
  </section>
</template>

<style scoped>
.doubt {
  padding: 12px 14px;
  border: 2px dashed var(--plum);
  border-radius: 12px;
  background: var(--panel);
}
p {
  margin: 0 0 6px;
}
ul,
ol {
  margin: 0 0 8px;
  padding-left: 18px;
}
ol {
  padding: 0;
  list-style: none;
}
ol li {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
  min-height: 48px;
  line-height: 1.25;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
