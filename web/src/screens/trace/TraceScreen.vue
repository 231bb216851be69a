<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import type { FoundOfHarness, TraceStepView } from '../../api/client'
import { useShortcuts } from '../../input/useShortcuts'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import { TRACE_KEYS } from '../../words/keys'
import { entryWords } from '../../words/trace'
import { SAY } from '../../words/say'
import { useMeter } from '../meter/useMeter'
import MeterPanel from '../meter/MeterPanel.vue'
import ShortcutSheet from '../ShortcutSheet.vue'
import TopBar from '../TopBar.vue'
import { usePerson } from '../usePerson'
import FoundPanel from './FoundPanel.vue'
import OwnPair from './OwnPair.vue'
import StepCard from './StepCard.vue'
import WireStates from './WireStates.vue'
import { beeps, useLifted } from './useLifted'
import { useTrace } from './useTrace'

const props = defineProps<{ name: string }>()
const { person } = usePerson()
const trace = useTrace(props.name, person)
const { view, trouble, refused, said, circuit, kept, outbox, record, undo, keep } = trace
onMounted(async () => {
  await trace.load()
  await outbox.resume()
})
onBeforeUnmount(trace.stop)

/** Two pins that the mechanic picked, until they were measured. */
const own = ref<TraceStepView>()
const step = computed(() => own.value ?? view.value?.step ?? undefined)
watch(circuit, () => (own.value = undefined))
const card = ref<InstanceType<typeof StepCard>>()
const keys = ref(false)

const traced = computed(() => view.value?.links.filter((l) => l.state === 'traced').length ?? 0)
const last = computed(() => view.value?.entries.slice(0, 6) ?? [])

async function found(what: FoundOfHarness) {
  const taken = await record(what)
  if (taken && what.kind === 'probe') own.value = undefined
}

const instrument = computed(() => step.value?.instrument)
/** A beep is taken by itself, once the probes were off the last pins. No beep is what a meter shows between two
 * measurements, too: that is tapped. */
const meter = useMeter(person, instrument, (typed) => {
  if (step.value && lifted.value && beeps(typed)) void found(probe(step.value, typed))
})
const lifted = useLifted(step, meter.live)
function probe({ red, black, off, instrument }: TraceStepView, typed: string): FoundOfHarness {
  return { kind: 'probe', red: red.terminal, black: black.terminal, instrument, typed, off }
}

useShortcuts((key) => {
  if (key === '?') keys.value = true
  else if (key === 'u') void undo()
  else return card.value?.press(key) ?? false
  return true
})
</script>

<template>
  <TopBar>
    <h1>{{ SAY.trace.title }}</h1>
    <span v-if="view" class="quiet"
      >{{ view.make }} {{ view.model }}, revision {{ view.revision }}</span
    >
    <template #right>
      <v-btn variant="text" :to="`/machines/${name}`">{{ SAY.trace.backToTheMachine }}</v-btn>
    </template>
  </TopBar>
  <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
  <p class="seen-by-readers-only" aria-live="polite">{{ said }}</p>
  <main v-if="view">
    <div class="circuits" role="group" :aria-label="SAY.common.circuits">
      <v-btn :aria-pressed="!circuit" data-circuit="all" @click="circuit = undefined"
        >{{ SAY.trace.allWires }}: {{ traced }} of {{ view.links.length }}</v-btn
      >
      <v-btn
        v-for="c in view.circuits"
        :key="c.id"
        :aria-pressed="circuit === c.id"
        :data-circuit="c.id"
        :class="{ complete: !c.left }"
        @click="circuit = c.id"
        >{{ c.name }}: {{ c.left ? `${c.left} left` : 'complete' }}</v-btn
      >
    </div>
    <div class="two">
      <div class="now">
        <StepCard
          v-if="step"
          ref="card"
          :step="step"
          :battery="view.battery"
          :has-key="view.key"
          :busy="outbox.busy.value"
          @found="found"
        />
        <p v-else class="empty" role="status">{{ SAY.trace.nothingLeft }}</p>
        <p v-if="refused" class="trouble" role="alert">{{ refused }}</p>
        <UnsentNotice :outbox="outbox" :points="[]" />
        <OwnPair :ends="view.ends" :off="view.off" @measure="own = $event" />
        <MeterPanel
          v-model:address="meter.address.value"
          v-model:on="meter.on.value"
          :live="meter.live.value"
          :lost="meter.lost.value"
          :meters="meter.meters.value"
          :idle="!step"
          :brings="false"
          @off="meter.on.value = false"
        />
      </div>
      <div class="now">
        <FoundPanel :view="view" :busy="outbox.busy.value" :kept="kept" :name="name" @keep="keep" />
        <section class="log" :aria-label="SAY.trace.readings">
          <h2>{{ SAY.trace.readings }}</h2>
          <p v-if="!last.length" class="quiet">{{ SAY.trace.nothingFound }}</p>
          <ol>
            <li v-for="e in last" :key="e.id" :class="{ struck: e.voided }">
              {{ entryWords(e) }}<b v-if="e.odd" class="odd"> ({{ SAY.trace.slip }})</b>
            </li>
          </ol>
          <v-btn v-if="last.some((e) => !e.voided)" @click="undo"
            ><kbd>u</kbd>&nbsp;{{ SAY.common.undo }}</v-btn
          >
          <p v-if="view.set_aside" class="quiet">
            {{ view.set_aside }} readings are of wires that the drawing no longer has. They are kept
            and not counted.
          </p>
        </section>
        <WireStates :links="view.links" />
      </div>
    </div>
    <p class="quiet">{{ SAY.common.kelvokDoesNotCertifyThis }}</p>
  </main>
  <p v-else-if="!trouble" class="quiet loading" role="status">{{ SAY.common.loading }}</p>
  <ShortcutSheet v-if="keys" :keys="TRACE_KEYS" @close="keys = false" />
</template>

<style scoped>
h1 {
  display: inline;
  margin-right: 8px;
  font-size: 17px;
}
main {
  display: grid;
  gap: 14px;
  padding: 12px 20px 24px;
}
.circuits {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.circuits :deep(.v-btn[aria-pressed='true']) {
  border: 3px solid var(--ember);
  font-weight: 700;
}
.circuits .complete {
  border-color: var(--moss);
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
  gap: 24px;
  align-items: start;
}
.now,
.log {
  display: grid;
  gap: 12px;
}
.log {
  justify-items: start;
}
p,
h2,
ol {
  margin: 0;
}
h2 {
  font-size: 18px;
}
li {
  font-size: 17px;
}
.struck {
  text-decoration: line-through;
  color: var(--quiet);
}
.odd {
  color: var(--plum);
}
.empty {
  padding: 18px;
  font-size: 22px;
  background: var(--panel);
  border: 2px solid var(--moss);
  border-radius: 12px;
}
.trouble {
  padding: 10px 14px;
  font-weight: 600;
  border-left: 8px solid var(--plum);
}
.loading {
  padding: 20px;
}
@media (max-width: 700px) {
  /* The card comes first: one line that is drawn along. */
  .circuits {
    flex-wrap: nowrap;
    margin: 0 -20px;
    padding: 0 20px;
    overflow-x: auto;
  }
  .circuits :deep(.v-btn) {
    flex: none;
  }
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
