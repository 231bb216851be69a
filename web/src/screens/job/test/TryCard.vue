<script setup lang="ts">
import { computed } from 'vue'
import type { Condition, Control, Observed, SetUpEntry, TestView } from '../../../api/client'
import { question } from '../../../words/noticed'
import { minutes } from '../../../words/numbers'
import { CAUTIONS } from '../../../words/cautions'
import { ENGINE_FIRST, conditionWords, moveWords, whyWords } from '../../../words/tests'
import { capital } from '../../../words/units'
import CrankTimer from '../noticed/CrankTimer.vue'
import TestCard from './TestCard.vue'
import { SAY } from '../../../words/say'

const props = defineProps<{
  test: TestView
  controls: Control[]
  condition: Condition
  waiting: boolean
  busy: boolean
}>()
const emit = defineEmits<{
  observed: [observed: Observed]
  skip: []
  set: [condition: Condition]
  back: [what: SetUpEntry]
}>()

const asked = computed(() => question(props.test))
/** How it stands before the one thing that is done. */
const from = computed(() => {
  const at = conditionWords(props.controls, props.test.comes_from ?? props.test.condition)
  return props.test.comes_from ? at : capital(at)
})
/** The one control that is moved with the engine running. */
const then = computed(() =>
  props.test.comes_from
    ? moveWords(props.controls, props.test.comes_from, props.test.condition)
    : '',
)
const place = computed(() =>
  props.test.action.kind === 'look' ? props.test.action.place : undefined,
)
const title = computed(() => {
  if (props.test.why === 'reproduce') return 'First: see it happen'
  if (props.test.why === 'recheck') return 'Check the repair'
  return props.test.action.kind === 'look' ? 'Next: look' : 'Next: try it'
})
const why = computed(() => {
  const told = ['reproduce', 'recheck'].includes(props.test.why)
  return [...(told ? [] : [whyWords(props.test)]), minutes(props.test.minutes)].join(' · ')
})
</script>

<template>
  <TestCard
    v-if="asked"
    :title="title"
    :why="why"
    :cautions="test.cautions.map((c) => CAUTIONS[c])"
    :put-back="test.put_back"
    :set-up="test.set_up"
    :controls="controls"
    :condition="condition"
    :wanted="test.condition"
    :busy="busy"
    @set="emit('set', $event)"
    @back="emit('back', $event)"
  >
    <p v-if="test.action.kind === 'try'" class="quiet how">
      <template v-if="test.comes_from">{{ `${SAY.job.startItWith} ` }}</template>{{ from }}.
    </p>
    <p class="do">
      {{ then || ENGINE_FIRST[test.engine] }} {{ asked.ask }}
      <span v-if="place" class="quiet">{{ capital(place) }}.</span>
    </p>
    <div class="answers" role="group" :aria-label="SAY.job.whatWasFound">
      <v-btn
        v-for="answer in asked.answers"
        :key="answer.label"
        height="56"
        :disabled="busy"
        @click="emit('observed', answer.observed)"
        >{{ answer.label }}</v-btn
      >
      <v-btn height="56" variant="text" @click="emit('skip')">{{ SAY.job.cant }}</v-btn>
    </div>
    <p v-if="waiting" class="waiting" role="alert">
      {{ SAY.common.theServerOrItsDatabase }}
    </p>
    <CrankTimer v-if="test.cautions.includes('may-crank')" />
  </TestCard>
</template>

<style scoped>
p {
  margin: 0;
}
.how {
  font-size: 15px;
}
.do {
  font-size: 19px;
  line-height: 1.3;
}
.answers {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.answers :deep(.v-btn) {
  flex: 1 0 40%;
  font-size: 18px;
}
.answers :deep(.v-btn__content) {
  white-space: normal;
  line-height: 1.15;
}
</style>
