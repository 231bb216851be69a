<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import type { FoundOfHarness, TraceEnd, TraceStepView } from '../../api/client'
import ReadingPad from '../../input/ReadingPad.vue'
import { SAY } from '../../words/say'
import { endWords, takeOffWords } from '../../words/trace'
import ColorPick from './ColorPick.vue'

/** One measurement: what to take off, where the two probes go, and what the meter does. */
const props = defineProps<{
  step: TraceStepView
  busy: boolean
  /** It has a battery, and a key. */
  battery: boolean
  hasKey: boolean
}>()
const emit = defineEmits<{ found: [found: FoundOfHarness] }>()

const inOhms = ref(false)
/** Machines without a battery or a key are told of none. */
const safe = computed(() =>
  [
    SAY.trace.engineOff,
    props.hasKey && SAY.trace.keyOut,
    props.battery && SAY.trace.batteryOff,
    SAY.trace.leaveItSo,
  ]
    .filter(Boolean)
    .join(' '),
)
const graded = computed(() => inOhms.value && props.step.instrument === 'ohmmeter')
const typed = ref('')
const field = ref<HTMLInputElement>()
const card = ref<HTMLElement>()
const at = computed(() => `${props.step.red.terminal} ${props.step.black.terminal}`)
watch(
  () => props.step,
  async (step, before) => {
    inOhms.value = step.instrument === 'ohmmeter'
    typed.value = ''
    if (!before) return
    await nextTick()
    card.value?.focus()
  },
  { immediate: true },
)

function probe(text: string, instrument: 'buzzer' | 'ohmmeter') {
  if (props.busy || !text.trim()) return
  const { red, black, off } = props.step
  emit('found', {
    kind: 'probe',
    red: red.terminal,
    black: black.terminal,
    instrument,
    typed: text,
    off,
  })
}
const beep = (beeps: boolean) =>
  inOhms.value
    ? probe(beeps ? typed.value : 'OL', 'ohmmeter')
    : probe(beeps ? 'beep' : 'no beep', 'buzzer')

/** A key of the page; whether it was used. */
function press(pressed: string): boolean {
  if (inOhms.value) {
    if (/^[0-9.]$/.test(pressed)) typed.value += pressed
    else if (pressed === 'Backspace') typed.value = typed.value.slice(0, -1)
    else if (pressed === 'Enter') probe(typed.value, 'ohmmeter')
    else if (pressed === 'o') beep(false)
    else return false
    return true
  }
  if (pressed !== 'z' && pressed !== 'n') return false
  beep(pressed === 'z')
  return true
}
defineExpose({ press })

const probes = computed((): ['red' | 'black', TraceEnd][] => [
  ['red', props.step.red],
  ['black', props.step.black],
])
</script>

<template>
  <section ref="card" class="card" tabindex="-1" :aria-label="SAY.trace.step" :data-step="at">
    <p class="caution">{{ safe }}</p>
    <p v-for="c in step.cautions" :key="c" class="caution">{{ c }}</p>
    <p v-if="step.again" class="why">{{ SAY.trace.repeat }}</p>
    <p v-else-if="step.search" class="why">{{ SAY.trace.lookingForIt }}</p>
    <div v-if="step.pull.length" class="off">
      <h3>{{ SAY.trace.takeOff }}</h3>
      <ul>
        <li v-for="p in step.pull" :key="p.part">
          <b>{{ takeOffWords(p) }}</b>
          <span v-if="p.place" class="quiet"
            >{{ p.place }}{{ p.cover ? `; take off the ${p.cover}` : '' }}</span
          >
        </li>
      </ul>
    </div>
    <p>{{ graded ? SAY.trace.putProbesOhms : SAY.trace.putProbes }}</p>
    <dl>
      <template v-for="[side, end] in probes" :key="side">
        <dt :class="side">{{ SAY.common[side] }}</dt>
        <dd>
          <b>{{ endWords(end) }}</b>
          <span class="quiet">{{ end.place }}</span>
          <ColorPick
            v-if="!end.metal"
            :of="endWords(end)"
            :color="end.color"
            @pick="emit('found', { kind: 'color', at: end.terminal, color: $event })"
            @empty="emit('found', { kind: 'empty', at: end.terminal })"
          />
        </dd>
      </template>
    </dl>
    <p class="expect">
      {{ SAY.trace.asDrawn }} <b>{{ step.beeps ? SAY.trace.itBeeps : SAY.trace.itDoesnt }}</b>
    </p>
    <div v-if="!inOhms" class="answers" role="group" :aria-label="SAY.trace.answers">
      <v-btn height="72" :disabled="busy" data-answer="beep" @click="beep(true)"
        ><kbd>z</kbd>&nbsp;{{ SAY.trace.beeps }}</v-btn
      >
      <v-btn height="72" :disabled="busy" data-answer="silent" @click="beep(false)"
        ><kbd>n</kbd>&nbsp;{{ SAY.trace.noBeep }}</v-btn
      >
    </div>
    <form v-else class="ohms" @submit.prevent="probe(typed, 'ohmmeter')">
      <label
        >{{ SAY.trace.ohms }}
        <input ref="field" v-model="typed" inputmode="none" autocomplete="off" class="mono" />
      </label>
      <v-btn height="72" type="submit" :disabled="busy || !typed.trim()">{{
        SAY.common.record
      }}</v-btn>
      <v-btn height="72" :disabled="busy" data-answer="open" @click="beep(false)"
        ><kbd>o</kbd>&nbsp;{{ SAY.trace.over }}</v-btn
      >
      <ReadingPad class="pad" @key="typed += $event" @back="typed = typed.slice(0, -1)" />
    </form>
    <div class="more">
      <v-btn variant="text" @click="inOhms = !inOhms">{{
        inOhms ? SAY.trace.buzzerInstead : SAY.trace.ohmsInstead
      }}</v-btn>
    </div>
  </section>
</template>

<style scoped>
.card {
  display: grid;
  gap: 12px;
  padding: 16px 18px;
  background: var(--panel);
  border: 2px solid var(--ink);
  border-radius: 12px;
}
.card:focus {
  outline: none;
}
p,
h3,
ul,
dl,
dd {
  margin: 0;
}
.why {
  font-size: 20px;
  font-weight: 700;
}
.off {
  padding: 10px 14px;
  border-left: 8px solid var(--ochre);
}
.off h3 {
  font-size: 17px;
}
.off ul {
  padding: 0;
  list-style: none;
}
.off li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
  font-size: 20px;
}
.off span {
  font-size: 16px;
}
dl {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 10px 14px;
  align-items: center;
}
dt {
  padding: 6px 10px;
  font-weight: 700;
  text-align: center;
  text-transform: uppercase;
  border: 3px solid currentColor;
  border-radius: 8px;
}
dt.red {
  color: var(--ember);
}
dd {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
}
dd b {
  font-size: 26px;
  line-height: 1.15;
}
.expect {
  font-size: 18px;
}
.answers {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.answers :deep(.v-btn) {
  font-size: 24px;
}
.ohms {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 10px;
  align-items: end;
}
.ohms label {
  display: grid;
  gap: 4px;
}
.ohms input {
  height: 72px;
  width: 100%;
  padding: 0 12px;
  font-size: 30px;
  color: inherit;
  background: var(--paper, transparent);
  border: 2px solid var(--dead);
  border-radius: 8px;
}
.pad {
  grid-column: 1 / -1;
}
@media (max-width: 600px) {
  kbd {
    display: none;
  }
  .ohms {
    grid-template-columns: 1fr 1fr;
  }
  .ohms label {
    grid-column: 1 / -1;
  }
}
</style>
