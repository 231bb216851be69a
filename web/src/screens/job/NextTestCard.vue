<script setup lang="ts">
import { mdiDialpad } from '@mdi/js'
import { computed, nextTick, ref, watch } from 'vue'
import type { Condition, Control, Instrument } from '../../api/client'
import ReadingPad from '../../input/ReadingPad.vue'
import { minutes, volts } from '../../words/numbers'
import {
  CAUTIONS,
  DIAL,
  ENGINE_FIRST,
  LAMP_CAUTION,
  OTHER,
  PLUG_CAUTION,
  UNIT,
  leavesWords,
  moves,
  rangeWords,
  setUpWords,
  whyWords,
} from '../../words/tests'
import { capital } from '../../words/units'
import CrankTimer from './CrankTimer.vue'
import QuickAnswers from './QuickAnswers.vue'
import type { Target } from './useTarget'

const props = defineProps<{
  target: Target
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
  set: [condition: Condition]
}>()

/** What is typed and not yet recorded outlives a reload. */
const draft = `kelvok.draft.${window.location.pathname}`
const typed = ref(sessionStorage.getItem(draft) ?? '')
watch(typed, (text) => sessionStorage.setItem(draft, text))
/** What is in the hand in place of what was asked for; it stays there from card to card. */
const held = ref<Instrument[]>([])
const pad = ref(window.matchMedia('(pointer: coarse)').matches)
const field = ref<{ focus(): void } | null>(null)

const instrument = computed<Instrument>(() => {
  const wanted = props.target.instrument
  const other = OTHER[wanted]
  return other && held.value.includes(other) ? other : wanted
})
const toMove = computed(() => moves(props.controls, props.condition, props.target.condition))
const setUp = computed(() => setUpWords(props.target.setUp))
const answers = computed(() => props.target.test?.answers.slice(0, 3) ?? [])
const cranks = computed(() => props.target.cautions.includes('may-crank'))
const cautions = computed(() => {
  const words = props.target.cautions.map((c) => CAUTIONS[c])
  const place = props.target.red.place_caution
  const lamp = instrument.value === 'test-lamp' && (swapped.value || !props.target.test)
  const off = props.target.setUp.map((s) => s.entry.kind)
  const bared = !props.target.test && off.includes('unplugged') && !off.includes('battery-off')
  return [
    ...words,
    ...(place ? [place] : []),
    ...(lamp ? [LAMP_CAUTION] : []),
    ...(bared ? [PLUG_CAUTION] : []),
  ]
})

const swapped = computed(() => instrument.value !== props.target.instrument)

function swap() {
  const other = OTHER[instrument.value]
  if (other) held.value = [...held.value.filter((h) => h !== instrument.value), other]
}

/** A figure where a buzzer was asked for is ohms. */
function by(answer: string): Instrument {
  const figure = /^[\d.,]|^ol$/i.test(answer.trim())
  return instrument.value === 'buzzer' && figure ? 'ohmmeter' : instrument.value
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
  <section class="card" aria-label="Next test">
    <p class="why">
      <b>{{ target.test ? 'Next test' : 'Your own point' }}</b>
      <template v-if="target.test">
        · {{ whyWords(target.test) }} · {{ minutes(target.test.minutes) }}</template
      >
      <v-btn v-else size="small" variant="text" @click="emit('plan')">Back to the plan</v-btn>
    </p>
    <p v-if="toMove.length || setUp" class="do">
      <template v-if="toMove.length"
        >Set <b>{{ toMove.join(', ') }}</b>. </template
      >{{ setUp }}
      <v-btn v-if="target.test && toMove.length" size="small" @click="emit('set', target.condition)"
        >It is set so</v-btn
      >
    </p>
    <p v-if="ENGINE_FIRST[target.engine]" class="do">{{ ENGINE_FIRST[target.engine] }}</p>
    <dl>
      <div>
        <dt class="red">Red</dt>
        <dd>
          <b>{{ capital(target.red.name) }}</b>&nbsp;
          <span v-if="target.red.colors.length" class="quiet">{{
            target.red.colors.join(', ')
          }}</span>
        </dd>
      </div>
      <div>
        <dt class="black">Black</dt>
        <dd>
          <b>{{ capital(target.black.name) }}</b>
        </dd>
      </div>
    </dl>
    <p class="quiet where">
      {{ DIAL[instrument] }} {{ capital(target.red.name) }}: {{ target.red.place
      }}<template v-if="target.red.cover">, {{ target.red.cover }} off</template>.
    </p>

    <form @submit.prevent="record()">
      <v-text-field
        ref="field"
        v-model="typed"
        class="reading mono"
        :label="UNIT[instrument]"
        :inputmode="pad ? 'none' : 'text'"
        autocomplete="off"
        :error-messages="refused"
        @keydown.esc="($event.target as HTMLElement).blur()"
      />
      <v-btn
        height="60"
        :aria-pressed="pad"
        aria-label="Reading pad"
        min-width="48"
        @click="pad = !pad"
        ><v-icon :icon="mdiDialpad"
      /></v-btn>
      <v-btn type="submit" :class="{ strong: !aside }" height="60">Record</v-btn>
    </form>
    <p v-if="waiting" class="waiting" role="alert">
      The server or its database does not answer. Your reading is kept and goes in as soon as it
      does.
    </p>
    <ReadingPad v-if="pad" @key="typed += $event" @back="typed = typed.slice(0, -1)" />

    <ul v-if="answers.length" class="answers">
      <li v-for="(a, i) in answers" :key="i">
        <b class="mono">{{ rangeWords(a) }}</b> {{ leavesWords(a) }}
      </li>
    </ul>
    <p v-else-if="target.expected != null" class="answers">
      <b class="mono">{{ volts(target.expected) }} V</b> if sound to here; a healthy machine reads
      {{ volts(target.healthy ?? 0) }} V.
    </p>

    <QuickAnswers
      :instrument="instrument"
      :other="OTHER[instrument]"
      :skips="!!target.test"
      @record="record"
      @swap="swap"
      @skip="emit('skip')"
    />
    <CrankTimer v-if="cranks" />
    <p v-for="caution in cautions" :key="caution" class="caution">{{ caution }}</p>
  </section>
</template>

<style scoped>
.card {
  display: grid;
  gap: 8px;
  padding: 10px 14px 12px;
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
.do :deep(.v-btn) {
  font-size: 15px;
}
.do {
  font-size: 19px;
  line-height: 1.25;
}
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  margin: 0;
  font-size: 18px;
}
dl div {
  display: flex;
  gap: 8px;
}
dt {
  flex: none;
  padding-left: 20px;
  position: relative;
  font-weight: 700;
}
dt::before {
  content: '';
  position: absolute;
  left: 0;
  top: 6px;
  width: 13px;
  height: 13px;
  border: 2px solid var(--ink);
  border-radius: 4px;
}
.red::before {
  background: var(--ember);
}
.black::before {
  background: #000;
}
dd {
  margin: 0;
}
.where {
  font-size: 15px;
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
.answers {
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 16px;
  line-height: 1.35;
}
</style>
