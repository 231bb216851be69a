<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type {
  CircuitView,
  DiagnosisView,
  Engine,
  JobView,
  Observed,
  Standing,
} from '../../../api/client'
import { breakWords, lookAlikes } from '../../../words/finding'
import { sayings, shouldDo } from '../../../words/noticed'
import { heardWords } from '../../../words/tests'
import type { How } from './useNoticed'
import CloserAnswers from './CloserAnswers.vue'
import { SAY } from '../../../words/say'

const props = defineProps<{
  job: JobView
  drawn: CircuitView
  engine: Engine
  diagnosis: DiagnosisView
  busy: boolean
  /** Nothing is recorded any more. */
  closed: boolean
}>()
const emit = defineEmits<{
  noticed: [observed: Observed, how: How, at?: Standing]
  before: []
}>()

const should = computed(() =>
  shouldDo(props.drawn.should, props.engine, props.diagnosis.has_starter),
)
const asItShould = computed(() => {
  const { heard, should } = props.drawn
  return (
    (heard === 'cranks' && should.crank === 'yes') || (heard === 'silent' && should.crank === 'no')
  )
})
/** The form for anything noticed is open. */
const asking = ref(false)

/** A jumper goes on, or a wire comes off, to see what the machine does then. */
const arranged = computed(
  () => props.job.still_off.filter((s) => ['jumper', 'wire-off'].includes(s.entry.kind)).length,
)
watch(arranged, (now, before) => {
  if (now > before) asking.value = true
})

const choices = computed(() =>
  sayings(props.engine, props.diagnosis.has_starter, props.drawn.should.clutch != null),
)

/** Told by whoever brought it, not heard by who records. */
const told = ref(false)
const atTimes = ref(false)
const anHour = ref('')
/** Nothing was heard where a good machine does nothing either: was the key turned? */
const doubtful = ref<Observed>()

/** Records it; what was switched on for it is off again. */
function say(observed: Observed, at?: Standing) {
  const nothing = observed.kind === 'heard' && observed.heard === 'silent'
  if (nothing && props.drawn.should.crank !== 'yes' && !doubtful.value) {
    doubtful.value = observed
    return
  }
  doubtful.value = undefined
  asking.value = false
  const often = Number.parseFloat(anHour.value.replace(',', '.'))
  const how: How = {
    source: told.value ? 'told' : 'tested',
    at_times: atTimes.value,
    times_an_hour: atTimes.value && often > 0 ? often : null,
  }
  emit('noticed', observed, how, at)
  told.value = atTimes.value = false
  anHour.value = ''
}

/** Where the starter is heard, or the engine cranked, whatever the controls are set to now. */
const complained = (turns: Engine): Standing => ({
  set: props.diagnosis.condition,
  engine: turns,
})

/** What takes a turning engine is said of one that cranks. */
function sayCloser(observed: Observed, turning: boolean) {
  say(observed, turning && props.engine === 'stopped' ? complained('cranking') : undefined)
}

/** Minutes that it worked with no trouble. */
const minutes = ref('')
const ran = computed(() => Number.parseFloat(minutes.value.replace(',', '.')))

function sayRan() {
  say({ kind: 'ran', minutes: ran.value })
  minutes.value = ''
}

const fault = computed(() => {
  const { drawn } = props
  return drawn.shape === 'track' && drawn.lost
    ? breakWords(drawn.lost, drawn.supply_volts)
    : undefined
})
</script>

<template>
  <div class="heard">
    <p class="line">
      <b>{{ SAY.job.aGoodMachineSetLike }}</b> {{ should }}.
      <b v-if="drawn.heard" :class="asItShould ? 'fine' : 'found'"
        >You got: {{ heardWords(drawn.heard) }}.</b
      >
      <v-btn
        v-if="!asking && !closed"
        class="no-print"
        size="small"
        variant="text"
        :disabled="busy"
        @click="asking = true"
        >{{ SAY.job.sayWhatItDoes }}</v-btn
      >
    </p>
    <p v-if="fault" class="line break" role="status">
      {{ fault }} <span class="alike">{{ lookAlikes(diagnosis) }}</span>
    </p>
    <div v-if="doubtful" class="ask" role="alert">
      <span>{{ SAY.job.setLikeThisAGood }}</span>
      <div>
        <v-btn :disabled="busy" @click="say(doubtful, complained('stopped'))">{{
          SAY.job.yesToStart
        }}</v-btn>
        <v-btn :disabled="busy" @click="say(doubtful)">{{ SAY.job.noJustLikeThis }}</v-btn>
        <v-btn variant="text" @click="doubtful = undefined">{{ SAY.job.neverMind }}</v-btn>
      </div>
    </div>
    <div v-else-if="asking && !closed" class="ask">
      <span>{{ engine === 'stopped' ? SAY.job.turnTheKeyWhatDo : SAY.common.whatDoesItDo }}</span>
      <div role="group" :aria-label="SAY.job.howYouKnow" class="how">
        <v-btn :aria-pressed="told" @click="told = !told">{{ SAY.job.customerSaysToggle }}</v-btn>
        <v-btn :aria-pressed="atTimes" @click="atTimes = !atTimes">{{ SAY.job.offAndOn }}</v-btn>
        <label v-if="atTimes"
          >{{ SAY.job.about }}
          <input v-model="anHour" inputmode="decimal" :aria-label="SAY.job.timesAnHour" />
          {{ SAY.job.anHour }}</label
        >
        <v-btn variant="text" @click="emit('before')">{{ SAY.job.pastRepairs }}</v-btn>
      </div>
      <div role="group" :aria-label="SAY.common.whatItDoes">
        <v-btn v-for="c in choices" :key="c.label" :disabled="busy" @click="say(c.observed)">{{
          c.label
        }}</v-btn>
      </div>
      <CloserAnswers :job="job" :busy="busy" @said="sayCloser" />
      <form v-if="engine.startsWith('running')" class="how" @submit.prevent="sayRan">
        <label
          >{{ SAY.job.ran }}
          <input v-model="minutes" inputmode="decimal" :aria-label="SAY.job.minutesItRan" />
          {{ SAY.job.minutesLikeThisWithNo }}</label
        >
        <v-btn type="submit" :disabled="busy || !(ran > 0)">{{ SAY.job.recordTheRun }}</v-btn>
      </form>
      <v-btn variant="text" @click="asking = false">{{ SAY.common.close }}</v-btn>
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
