<script setup lang="ts">
import { computed, ref } from 'vue'
import type { CircuitView, DiagnosisView, Engine, Observed } from '../../../api/client'
import { breakWords, lookAlikes } from '../../../words/finding'
import { sayings } from '../../../words/noticed'
import { heardWords } from '../../../words/tests'
import { list } from '../../../words/units'
import { listens } from '../test/useTarget'
import type { How } from './useNoticed'

const props = defineProps<{
  drawn: CircuitView
  engine: Engine
  diagnosis: DiagnosisView
  busy: boolean
}>()
const emit = defineEmits<{ noticed: [observed: Observed, how: How]; before: [] }>()

const should = computed(() => {
  const { crank, spark, clutch } = props.drawn.should
  const does = [crank === 'yes' ? 'crank' : crank === 'no' ? 'not crank' : crank]
  if (clutch === 'engaged') does.push('turn the blades')
  if (spark.length && spark.every((s) => s === 'killed')) does.push('stop the engine')
  return list(does, 'and')
})
const asItShould = computed(() => {
  const { heard, should } = props.drawn
  return (
    (heard === 'cranks' && should.crank === 'yes') || (heard === 'silent' && should.crank === 'no')
  )
})
/** Asked again although something was heard. */
const again = ref(false)
const asking = computed(() => again.value || listens(props.diagnosis))

const choices = computed(() =>
  sayings(props.engine, props.diagnosis.has_starter, props.drawn.should.clutch != null),
)

/** Told by whoever brought it, not heard by who records. */
const told = ref(false)
const atTimes = ref(false)
const anHour = ref('')

function say(observed: Observed) {
  again.value = false
  const often = Number.parseFloat(anHour.value.replace(',', '.'))
  emit('noticed', observed, {
    source: told.value ? 'told' : 'tested',
    at_times: atTimes.value,
    times_an_hour: atTimes.value && often > 0 ? often : null,
  })
  atTimes.value = false
  anHour.value = ''
}

/** Minutes that it worked with nothing amiss. */
const minutes = ref('')
const ran = computed(() => Number.parseFloat(minutes.value.replace(',', '.')))

function sayRan() {
  again.value = false
  emit('noticed', { kind: 'ran', minutes: ran.value }, { source: told.value ? 'told' : 'tested' })
  minutes.value = ''
}

const fault = computed(() => (props.drawn.shape === 'track' ? props.drawn.lost : undefined))
</script>

<template>
  <div class="heard">
    <p class="line">
      <b>So it should:</b> {{ should }}.
      <b v-if="drawn.heard" :class="asItShould ? 'fine' : 'found'"
        >Found: {{ heardWords(drawn.heard) }}.</b
      >
      <v-btn
        v-if="!asking"
        class="no-print"
        size="small"
        variant="text"
        :disabled="busy"
        @click="again = true"
        >{{ drawn.heard ? 'Heard something else' : 'Say what was heard' }}</v-btn
      >
    </p>
    <p v-if="fault" class="line break" role="status">
      {{ breakWords(fault) }} <span class="alike">{{ lookAlikes(diagnosis) }}</span>
    </p>
    <div v-if="asking" class="ask">
      <span>{{ engine === 'stopped' ? 'What was heard?' : 'What does it do?' }}</span>
      <div role="group" aria-label="How it is known" class="how">
        <v-btn :aria-pressed="told" @click="told = !told">Told to me</v-btn>
        <v-btn :aria-pressed="atTimes" @click="atTimes = !atTimes">Comes and goes</v-btn>
        <label v-if="atTimes"
          >about <input v-model="anHour" inputmode="decimal" aria-label="Times an hour" /> times an
          hour</label
        >
        <v-btn variant="text" @click="emit('before')">What was done before</v-btn>
      </div>
      <div role="group" aria-label="What was heard">
        <v-btn v-for="c in choices" :key="c.label" :disabled="busy" @click="say(c.observed)">{{
          c.label
        }}</v-btn>
      </div>
      <form v-if="engine.startsWith('running')" class="how" @submit.prevent="sayRan">
        <label
          >Ran <input v-model="minutes" inputmode="decimal" aria-label="Minutes it ran" /> minutes
          like this, nothing amiss</label
        >
        <v-btn type="submit" :disabled="busy || !(ran > 0)">Record the run</v-btn>
      </form>
    </div>
  </div>
</template>

<style scoped>
.line {
  margin: 0;
  font-size: 18px;
}
.found,
.break {
  color: var(--plum);
}
.break {
  font-weight: 700;
}
.fine {
  color: var(--moss);
}
.line :deep(.v-btn) {
  font-size: 15px;
  color: var(--quiet);
}
.alike {
  color: var(--ink);
  font-weight: 400;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
  margin-top: 6px;
}
.how {
  align-items: center;
}
.how :deep([aria-pressed='true']) {
  background: var(--ink);
  color: var(--paper);
}
input {
  width: 64px;
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--dead);
  border-radius: 8px;
  background: var(--panel);
}
.ask div,
.ask form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
