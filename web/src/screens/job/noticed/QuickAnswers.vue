<script setup lang="ts">
import { computed } from 'vue'
import type { Instrument } from '../../../api/client'
import { INSTRUMENT } from '../../../words/tests'
import { capital } from '../../../words/units'
import { SAY } from '../../../words/say'

/** The answers that need no typing, and what to do where none comes. */
const props = defineProps<{
  instrument: Instrument
  /** Another instrument for the same. */
  other: Instrument | undefined
  skips: boolean
}>()
const emit = defineEmits<{
  record: [answer: string, by: Instrument]
  swap: []
  skip: []
}>()

const OVER: Answer[] = [{ says: 'OL', answer: 'OL', by: 'ohmmeter' }]
const BUZZER: Answer[] = [
  { says: 'Beeps', answer: 'buzz', by: 'buzzer' },
  { says: 'No beep', answer: 'silent', by: 'buzzer' },
]

interface Answer {
  says: string
  answer: string
  by: Instrument
}

const answers = computed<Answer[]>(() => {
  const said = (...words: string[]) =>
    words.map((answer) => ({ says: capital(answer), answer, by: props.instrument }))
  switch (props.instrument) {
    case 'ohmmeter':
      return [...OVER, ...BUZZER]
    case 'buzzer':
      return BUZZER
    case 'test-lamp':
      return said('bright', 'dim', 'out')
    case 'led-lamp':
      return said('lit', 'dark')
    case 'diode-range':
      return [{ says: 'OL', answer: 'OL', by: 'diode-range' }]
    default:
      return []
  }
})
</script>

<template>
  <div class="quick">
    <v-btn v-for="a in answers" :key="a.answer" @click="emit('record', a.answer, a.by)">{{
      a.says
    }}</v-btn>
    <v-btn v-if="other" variant="text" @click="emit('swap')">{{ INSTRUMENT[other] }}</v-btn>
    <v-btn v-if="skips" @click="emit('skip')">{{ SAY.job.cantReach }}</v-btn>
  </div>
</template>

<style scoped>
.quick {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.quick :deep(.v-btn) {
  flex: 1 0 auto;
  padding: 0 9px;
  min-width: 44px;
}
</style>
