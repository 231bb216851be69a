<script setup lang="ts">
import { mdiDialpad } from '@mdi/js'
import { computed, nextTick, ref, watch } from 'vue'
import type { Condition, Control, Instrument, OwnTestView, SetUpEntry } from '../../../api/client'
import ReadingPad from '../../../input/ReadingPad.vue'
import { minutes, volts } from '../../../words/numbers'
import { CAUTIONS, DANGERS } from '../../../words/cautions'
import { DIAL, ENGINE_FIRST, UNIT, leavesWords, rangeWords, whyWords } from '../../../words/tests'
import CrankTimer from '../noticed/CrankTimer.vue'
import TestCard from './TestCard.vue'
import ProbePoints from './ProbePoints.vue'
import QuickAnswers from '../noticed/QuickAnswers.vue'
import type { Target } from './useTarget'
import { SAY } from '../../../words/say'

const props = defineProps<{
  target: Target
  /** What is in the hand is not what the plan asked for. */
  swapped: boolean
  /** What else in the box would read the same. */
  other: Instrument | undefined
  /** What a measurement that the plan did not ask for would tell. */
  weighed: OwnTestView | undefined
  unweighed: string | undefined
  controls: Control[]
  condition: Condition
  waiting: boolean
  refused: string | undefined
  /** Something else on the screen is the thing to do now. */
  aside: boolean
}>()
const emit = defineEmits<{
  record: [instrument: Instrument, typed: string]
  skip: []
  plan: []
  swap: []
  set: [condition: Condition]
  back: [what: SetUpEntry]
}>()

/** What is typed and not yet recorded stays with its point, and outlives a reload. */
const draft = computed(() => {
  const { instrument, red, black } = props.target
  return `kelvok.draft.${window.location.pathname}.${instrument}.${red.terminal}.${black.terminal}`
})
const typed = ref('')
watch(draft, (key) => (typed.value = sessionStorage.getItem(key) ?? ''), { immediate: true })
watch(typed, (text) => sessionStorage.setItem(draft.value, text))
const pad = ref(window.matchMedia('(pointer: coarse)').matches)
const field = ref<{ focus(): void } | null>(null)

/** As the plan has it, or as it was weighed. */
const test = computed(() => props.weighed?.test ?? (props.swapped ? undefined : props.target.test))
const answers = computed(() => test.value?.answers.slice(0, 3) ?? [])
const sound = computed(() => props.weighed?.sound)
/** As the server has them; none are known yet of what it has not weighed. */
const cautions = computed(
  () => test.value?.cautions ?? (props.swapped ? undefined : props.target.cautions),
)
const cranks = computed(() => !!cautions.value?.includes('may-crank'))
const minded = computed(() => {
  const place = props.target.red.place_caution
  return [...(cautions.value ?? []).map((c) => CAUTIONS[c]), ...(place ? [place] : [])]
})

/** What must go back on before; of what the server has weighed, as it has it. */
const putBack = computed(() => test.value?.put_back ?? props.target.putBack)

/** A figure where a buzzer was asked for is ohms. */
function by(answer: string): Instrument {
  const { instrument } = props.target
  const figure = /^[\d.,]|^ol$/i.test(answer.trim())
  return instrument === 'buzzer' && figure ? 'ohmmeter' : instrument
}

function record(answer = typed.value, having = by(answer)) {
  // The field is free for the next reading at once; one that is refused comes back to it.
  typed.value = ''
  emit('record', having, answer)
}

/** Begins a reading with a digit typed anywhere. */
function begin(text: string) {
  typed.value = text
  void nextTick(() => field.value?.focus())
}

defineExpose({ begin, record })
</script>

<template>
  <TestCard
    :title="target.test ? SAY.job.nextTest : SAY.job.yourOwnPoint"
    :why="test ? `${whyWords(test)} · ${minutes(test.minutes)}` : ''"
    :cautions="cautions && minded"
    :put-back="putBack"
    :set-up="target.setUp"
    :controls="controls"
    :condition="condition"
    :wanted="target.condition"
    :busy="waiting"
    @set="emit('set', $event)"
    @back="emit('back', $event)"
  >
    <template #beside>
      <v-btn v-if="!target.test" size="small" variant="text" @click="emit('plan')">{{
        SAY.common.backToThePlan
      }}</v-btn>
    </template>
    <p v-if="ENGINE_FIRST[target.engine]" class="do">{{ ENGINE_FIRST[target.engine] }}</p>
    <div v-if="weighed?.dangers.length" class="against">
      <b>{{ SAY.job.notAdvised }}</b>
      <p v-for="danger in weighed.dangers" :key="danger">{{ DANGERS[danger] }}</p>
    </div>
    <p v-if="!cautions" class="do" role="status">
      {{ unweighed ?? SAY.job.workingOutWhatToWatch }}
    </p>
    <ProbePoints v-else :red="target.red" :black="target.black" :dial="DIAL[target.instrument]" />

    <form @submit.prevent="record()">
      <v-text-field
        ref="field"
        v-model="typed"
        class="reading mono"
        :label="UNIT[target.instrument]"
        :inputmode="pad ? 'none' : 'text'"
        autocomplete="off"
        :error-messages="refused"
        @keydown.esc="($event.target as HTMLElement).blur()"
      />
      <v-btn
        height="60"
        :aria-pressed="pad"
        :aria-label="SAY.common.readingPad"
        min-width="48"
        @click="pad = !pad"
        ><v-icon :icon="mdiDialpad"
      /></v-btn>
      <v-btn type="submit" :class="{ strong: !aside }" height="60">{{ SAY.common.record }}</v-btn>
    </form>
    <p v-if="waiting" class="waiting" role="alert">
      {{ SAY.job.theServerOrItsDatabase }}
    </p>
    <ReadingPad v-if="pad" @key="typed += $event" @back="typed = typed.slice(0, -1)" />

    <p v-if="target.expected != null && target.instrument === 'voltmeter'" class="answers">
      {{ SAY.job.shouldRead }} <b class="mono">{{ volts(target.expected) }} V</b> if all is good up
      to here. A good machine reads {{ volts(target.healthy ?? 0) }} V.
    </p>
    <p v-else-if="sound" class="answers">
      {{ SAY.job.aGoodMachine }} <b class="mono">{{ rangeWords(sound) }}</b>
    </p>
    <ul v-if="answers.length" class="answers">
      <li v-for="(a, i) in answers" :key="i">
        <b class="mono">{{ rangeWords(a.range) }}</b> {{ leavesWords(a) }}
      </li>
    </ul>

    <QuickAnswers
      :instrument="target.instrument"
      :other="other"
      :skips="!!target.test"
      @record="record"
      @swap="emit('swap')"
      @skip="emit('skip')"
    />
    <CrankTimer v-if="cranks" />
  </TestCard>
</template>

<style scoped>
p {
  margin: 0;
}
.do {
  font-size: 19px;
  line-height: 1.25;
}
form {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 8px;
  align-items: start;
}
.reading :deep(input) {
  font-family: 'Atkinson Hyperlegible Mono', monospace;
  font-size: 26px;
  font-weight: 700;
}
.against {
  padding: 8px 12px;
  border: 3px double var(--plum);
  border-radius: 8px;
  font-size: 16px;
}
.answers {
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 16px;
  line-height: 1.35;
}
</style>
