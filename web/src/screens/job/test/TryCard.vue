<script setup lang="ts">
import { computed } from 'vue'
import type { Condition, Control, Observed, TestView } from '../../../api/client'
import { question } from '../../../words/noticed'
import { minutes } from '../../../words/numbers'
import { CAUTIONS } from '../../../words/cautions'
import { ENGINE_FIRST, conditionWords, moves, whyWords } from '../../../words/tests'
import { capital } from '../../../words/units'
import CrankTimer from '../noticed/CrankTimer.vue'

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
}>()

const asked = computed(() => question(props.test))
const toMove = computed(() => moves(props.controls, props.condition, props.test.condition))
const place = computed(() =>
  props.test.action.kind === 'look' ? props.test.action.place : undefined,
)
</script>

<template>
  <section v-if="asked" class="try" aria-label="Next test">
    <p class="why">
      <b>Next: {{ test.action.kind === 'look' ? 'look' : 'try it' }}</b> · {{ whyWords(test) }} ·
      {{ minutes(test.minutes) }}
    </p>
    <p v-if="toMove.length" class="do">
      Set <b>{{ toMove.join(', ') }}</b>.
      <v-btn size="small" @click="emit('set', test.condition)">It is set so</v-btn>
    </p>
    <p v-if="test.why === 'reproduce'" class="do">
      Controls: {{ conditionWords(controls, test.condition) }}.
    </p>
    <p v-if="ENGINE_FIRST[test.engine]" class="do">{{ ENGINE_FIRST[test.engine] }}</p>
    <p class="do">
      {{ asked.ask }}
      <span v-if="place" class="quiet">{{ capital(place) }}.</span>
    </p>
    <div class="answers" role="group" aria-label="What was found">
      <v-btn
        v-for="answer in asked.answers"
        :key="answer.label"
        height="56"
        :disabled="busy"
        @click="emit('observed', answer.observed)"
        >{{ answer.label }}</v-btn
      >
      <v-btn height="56" variant="text" @click="emit('skip')">Can’t</v-btn>
    </div>
    <p v-if="waiting" class="waiting" role="alert">
      The server or its database does not answer. What you said is kept and goes in as soon as it
      does.
    </p>
    <CrankTimer v-if="test.cautions.includes('may-crank')" />
    <p v-for="caution in test.cautions" :key="caution" class="caution">{{ CAUTIONS[caution] }}</p>
  </section>
</template>

<style scoped>
.try {
  display: grid;
  gap: 10px;
  padding: 12px 14px 14px;
  border: 2px solid var(--ink);
  border-radius: 14px;
  background: var(--panel);
}
p {
  margin: 0;
}
.why {
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
</style>
