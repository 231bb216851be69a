<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import {
  type Condition,
  type DiagnosisView,
  type Engine,
  type Instrument,
  type JobView,
  type Observed,
  type SetUpEntry,
  type Strategy,
  type TestView,
} from '../../../api/client'
import { usePerson } from '../../usePerson'
import MeterPanel from '../../meter/MeterPanel.vue'
import ArrangePanel from '../noticed/ArrangePanel.vue'
import BatteryPanel from '../noticed/BatteryPanel.vue'
import NextTestCard from './NextTestCard.vue'
import OwnTest from './OwnTest.vue'
import SweepButton from './SweepButton.vue'
import TryCard from './TryCard.vue'
import WalkRound from './WalkRound.vue'
import WaysPanel from '../ways/WaysPanel.vue'
import { OTHER } from '../../../words/tests'
import { asMeter, useMeter } from '../../meter/useMeter'
import type { Own, Target } from './useTarget'
import { useWeighed } from './useWeighed'
import { percent } from '../../../words/numbers'
import { SAY } from '../../../words/say'

const props = defineProps<{
  job: JobView
  diagnosis: DiagnosisView
  target: Target | undefined
  tried: TestView | undefined
  condition: Condition
  engine: Engine
  waiting: boolean
  busy: boolean
  refused: string | undefined
}>()
const emit = defineEmits<{
  record: [instrument: Instrument, typed: string]
  observed: [observed: Observed, test: TestView]
  said: [observed: Observed]
  skip: []
  plan: []
  own: [own: Own]
  set: [condition: Condition]
  back: [what: SetUpEntry]
}>()
const strategy = defineModel<Strategy>('strategy', { required: true })

const { person } = usePerson()
const card = ref<InstanceType<typeof NextTestCard> | null>(null)
const round = ref(false)
const [owns, battery, arranges] = [ref(false), ref(false), ref(false)]
/** A meter that talks is wanted. */
const metered = ref(false)
/** What is in the hand in place of what was asked for; it stays there from card to card. */
const held = ref<Instrument[]>([])

/** What reads it: the meter that talks, or what is in the hand. */
function taken(wanted: Instrument): Instrument {
  if (metered.value) return asMeter(wanted)
  const other = OTHER[wanted]
  return other && held.value.includes(other) ? other : wanted
}

const measuring = computed(() => {
  const at = props.target
  return at && { ...at, instrument: taken(at.instrument) }
})
const swapped = computed(() => measuring.value?.instrument !== props.target?.instrument)
const other = computed(() =>
  measuring.value && !metered.value ? OTHER[measuring.value.instrument] : undefined,
)
const { weighed, refused: unweighed } = useWeighed(
  props.job.id,
  measuring,
  swapped,
  () => props.job.evidence.length,
)

function swap() {
  const [now, next] = [measuring.value?.instrument, other.value]
  if (next) held.value = [...held.value.filter((h) => h !== now), next]
}

const instrument = computed(() => (metered.value ? measuring.value?.instrument : undefined))
const meter = useMeter(person, instrument, (typed) => {
  if (instrument.value && !props.busy) emit('record', instrument.value, typed)
})
const { address, meters, on, live, lost } = meter

/** Moves the stand-in's machine and probes to where the test wants them. */
function bring() {
  const at = measuring.value
  if (at) void meter.bring({ ...at, set_up: at.setUp })
}

/** The form folds up, and the card asks for it. */
async function measureOwn(own: Own) {
  owns.value = false
  emit('own', own)
  await nextTick()
  const top: unknown = card.value?.$el
  if (top instanceof HTMLElement) top.scrollIntoView({ block: 'nearest' })
}

function off() {
  on.value = false
  metered.value = false
}

defineExpose({
  measures: computed(() => !!measuring.value),
  begin: (text: string) => card.value?.begin(text),
  record: (answer: string, by: Instrument) => card.value?.record(answer, by),
})
</script>

<template>
  <div class="next">
    <MeterPanel
      v-if="metered"
      v-model:address="address"
      v-model:on="on"
      :meters="meters"
      :live="live"
      :lost="lost"
      :idle="!measuring"
      brings
      @bring="bring"
      @off="off"
    />
    <NextTestCard
      v-if="measuring"
      ref="card"
      :target="measuring"
      :swapped="swapped"
      :other="other"
      :weighed="weighed"
      :unweighed="unweighed"
      :controls="job.controls"
      :condition="condition"
      :waiting="waiting"
      :refused="refused"
      :aside="!!diagnosis.conclusion?.confirmed"
      @record="(instrument, typed) => emit('record', instrument, typed)"
      @skip="emit('skip')"
      @plan="emit('plan')"
      @swap="swap"
      @set="emit('set', $event)"
      @back="emit('back', $event)"
    />
    <TryCard
      v-else-if="tried"
      :test="tried"
      :controls="job.controls"
      :condition="condition"
      :waiting="waiting"
      :busy="busy"
      @observed="emit('observed', $event, tried)"
      @skip="emit('skip')"
      @set="emit('set', $event)"
      @back="emit('back', $event)"
    />
    <v-btn
      v-if="diagnosis.test_battery != null"
      class="test-battery"
      height="52"
      :to="`/jobs/${job.id}/battery`"
      >{{ SAY.job.couldBeTheBattery }} ({{ percent(diagnosis.test_battery) }}).
      {{ SAY.battery.testIt }}</v-btn
    >
    <v-btn
      v-if="diagnosis.test_charging != null"
      class="walk-drops"
      height="52"
      :to="`/jobs/${job.id}/charging`"
      >{{ SAY.charging.couldBe }} ({{ percent(diagnosis.test_charging) }}).
      {{ SAY.charging.checkIt }}</v-btn
    >
    <v-btn
      v-if="diagnosis.walk_drops"
      class="walk-drops"
      height="52"
      :to="`/jobs/${job.id}/drops/${diagnosis.walk_drops.circuit}`"
      >{{ SAY.drops.badJoint }} ({{ percent(diagnosis.walk_drops.share) }}).
      {{ SAY.drops.walkIt }}</v-btn
    >
    <div class="other">
      <v-btn size="small" :aria-pressed="metered" @click="metered ? off() : (metered = true)">{{
        SAY.common.meter
      }}</v-btn>
      <v-btn size="small" :aria-expanded="round" @click="round = !round">{{
        SAY.job.walkRound
      }}</v-btn>
      <SweepButton :job="job" />
      <v-btn v-if="job.battery" size="small" :aria-expanded="battery" @click="battery = !battery">{{
        SAY.job.battery
      }}</v-btn>
      <v-btn v-if="job.battery" size="small" :to="`/jobs/${job.id}/drops`">{{
        SAY.drops.drops
      }}</v-btn>
      <v-btn size="small" :to="`/jobs/${job.id}/fuses`">{{ SAY.fuses.title }}</v-btn>
      <v-btn v-if="job.battery" size="small" :to="`/jobs/${job.id}/charging`">{{
        SAY.charging.title
      }}</v-btn>
      <v-btn size="small" :to="`/jobs/${job.id}/loads`">{{ SAY.loads.title }}</v-btn>
      <v-btn size="small" :to="`/jobs/${job.id}/soak`">{{ SAY.soak.title }}</v-btn>
      <v-btn size="small" :aria-expanded="arranges" @click="arranges = !arranges">{{
        SAY.job.unplugOrJumper
      }}</v-btn>
      <v-btn size="small" :aria-expanded="owns" @click="owns = !owns">{{
        SAY.job.somethingElse
      }}</v-btn>
    </div>
    <BatteryPanel
      v-if="battery"
      :job="job.id"
      :jumper-on="job.jumper_on"
      :busy="busy"
      @said="emit('said', $event)"
      @close="battery = false"
    />
    <ArrangePanel
      v-if="arranges"
      :job="job"
      :condition="condition"
      :engine="engine"
      :busy="busy"
      @said="emit('said', $event)"
      @close="arranges = false"
    />
    <OwnTest v-if="owns" :job="job" @measure="measureOwn" />
    <WalkRound
      v-if="round"
      :looks="diagnosis.walk_round"
      :busy="busy"
      @looked="(observed, test) => emit('observed', observed, test)"
    />
    <WaysPanel
      v-model:strategy="strategy"
      :job="job.id"
      :condition="condition"
      :entries="job.evidence.length"
    />
  </div>
</template>

<style scoped>
.next {
  display: grid;
  gap: 12px;
}
.other {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
