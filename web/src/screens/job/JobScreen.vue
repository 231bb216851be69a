<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import type { Instrument } from '../../api/client'
import { stepControl } from '../../input/stepControl'
import { useShortcuts } from '../../input/useShortcuts'
import OperatorStation from '../../pictures/OperatorStation.vue'
import SuspectList from '../../pictures/SuspectList.vue'
import FoundNotice from '../FoundNotice.vue'
import { usePerson } from '../usePerson'
import HeardBar from './HeardBar.vue'
import JobBar from './JobBar.vue'
import JobCircuit from './JobCircuit.vue'
import JobStory from './JobStory.vue'
import ListenCard from './ListenCard.vue'
import NextTestCard from './NextTestCard.vue'
import ProofPanel from './ProofPanel.vue'
import ShortcutSheet from './ShortcutSheet.vue'
import TryCard from './TryCard.vue'
import VerdictPanel from './VerdictPanel.vue'
import { useActions } from './useActions'
import { useJob } from './useJob'
import { useNoticed } from './useNoticed'
import { useRecorder } from './useRecorder'
import { useTarget } from './useTarget'

const props = defineProps<{ id: string }>()

const {
  job,
  drawn,
  trace,
  diagnosis,
  circuit,
  condition,
  engine,
  trouble,
  lag,
  toUndo,
  refresh,
  move,
  setAll,
  letGo,
} = useJob(props.id)
const { person, load: loadPeople } = usePerson()
const recorder = useRecorder(props.id, refresh)
const { chosen, target, tried, marked, step, walkOn, skip } = useTarget(trace, diagnosis, condition)
const card = ref<InstanceType<typeof NextTestCard> | null>(null)
const story = ref<InstanceType<typeof JobStory> | null>(null)
const sheet = ref(false)
const said = ref('')
/** Why the last reading was refused. */
const refused = ref<string>()
const { busy, keep, takeBack, takeBackVerdict, setStatus } = useActions(
  props.id,
  job,
  person,
  trouble,
  refresh,
)

onMounted(async () => {
  await Promise.all([refresh(), loadPeople().catch(() => undefined)])
  await recorder.resume()
})

/** A verdict stands: what is left is to repair and close. */
const decided = computed(() => job.value?.verdicts.some((v) => !v.voided) && !chosen.value)
const open = computed(() => job.value?.status === 'open')
async function recordReading(instrument: Instrument, typed: string) {
  const at = target.value
  if (!at) return
  const walking = chosen.value
  refused.value = undefined
  const outcome = await recorder.record({
    by: person.value,
    condition: at.condition,
    engine: at.test?.engine ?? engine.value,
    set_up: at.setUp.map((s) => s.entry),
    observed: {
      kind: 'reading',
      instrument,
      red: at.red.terminal,
      black: at.black.terminal,
      typed,
    },
    repeats: 1,
  })
  if (!outcome.kept) {
    // Back to where it was typed, with what was typed, and why it was refused.
    chosen.value = walking
    refused.value = outcome.problem.field('typed') ?? outcome.problem.message
    card.value?.begin(typed)
    return
  }
  if (walking && chosen.value === walking) walkOn()
  said.value = `Recorded ${typed} at ${at.red.name}.`
}

const recordNoticed = useNoticed(recorder, person, condition, engine)

useShortcuts((key, shift) => {
  if (key === '?') return (sheet.value = !sheet.value) || true
  if (!open.value) return false
  if (key === 'Escape') {
    letGo()
    return true
  }
  if (/^[0-9.]$/.test(key) && card.value) {
    card.value.begin(key)
    return true
  }
  const ohms = target.value?.instrument === 'ohmmeter'
  switch (key) {
    case '[':
    case ']':
      step(key === ']' ? 1 : -1)
      return true
    case 'o':
    case 'z':
      if (ohms) card.value?.record(key === 'o' ? 'OL' : 'buzz', key === 'o' ? 'ohmmeter' : 'buzzer')
      return ohms
    case 'n':
      if (diagnosis.value?.listen) void recordNoticed({ kind: 'heard', heard: 'silent' })
      else if (ohms) card.value?.record('silent', 'buzzer')
      return true
    case 'u':
      story.value?.voidLast()
      void nextTick(() => document.querySelector<HTMLElement>('.reasons button')?.focus())
      return true
    default: {
      const next = stepControl(job.value?.controls ?? [], condition.value, key, shift)
      if (next) void move(next.control, next.position)
      return !!next
    }
  }
})
</script>

<template>
  <JobBar :job="job" :supply="diagnosis?.supply_volts" :to-undo="toUndo" @keys="sheet = !sheet" />
  <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
  <p class="seen-by-readers-only" aria-live="polite">{{ said }}</p>
  <main v-if="job && drawn && diagnosis" class="job" :data-lag="Math.round(lag)">
    <div class="left">
      <FoundNotice :found="job.found" />
      <ShortcutSheet
        v-if="sheet"
        class="no-print"
        :controls="job.controls"
        @close="sheet = false"
      />
      <OperatorStation
        class="no-print"
        :controls="job.controls"
        :condition="condition"
        @move="move"
      />
      <HeardBar
        :drawn="drawn"
        :engine="engine"
        :busy="recorder.busy.value || !open"
        :diagnosis="diagnosis"
        @noticed="recordNoticed"
      />
      <JobCircuit
        v-model:circuit="circuit"
        v-model:engine="engine"
        :job="job"
        :drawn="drawn"
        :chosen="marked"
        @choose="chosen = $event"
      />
    </div>
    <aside class="right no-print">
      <VerdictPanel
        :job="job"
        :diagnosis="diagnosis"
        :busy="busy"
        @keep="keep"
        @take-back="takeBackVerdict"
        @close="setStatus('closed')"
        @reopen="setStatus('open')"
      />
      <NextTestCard
        v-if="open && target && !decided && !(diagnosis.listen && !chosen)"
        ref="card"
        :target="target"
        :controls="job.controls"
        :condition="condition"
        :waiting="recorder.waiting.value"
        :refused="refused"
        :aside="!!diagnosis.conclusion?.confirmed"
        @record="recordReading"
        @skip="skip"
        @plan="chosen = undefined"
        @set="setAll"
      />
      <TryCard
        v-else-if="open && tried && !decided && !diagnosis.listen"
        :test="tried"
        :controls="job.controls"
        :condition="condition"
        :waiting="recorder.waiting.value"
        :busy="recorder.busy.value"
        @observed="recordNoticed($event, tried)"
        @skip="skip"
        @set="setAll"
      />
      <ListenCard
        v-else-if="open && !decided && diagnosis.listen"
        :controls="job.controls"
        :condition="condition"
        :wanted="diagnosis.condition"
        :waiting="recorder.waiting.value"
        @set="setAll"
      />
      <SuspectList :diagnosis="diagnosis" :most="6" />
      <ProofPanel :diagnosis="diagnosis" />
    </aside>
    <div class="story">
      <JobStory ref="story" :job="job" :diagnosis="diagnosis" :busy="busy" @void="takeBack" />
    </div>
    <p class="disclaimer">
      Kelvok does not certify this machine. The maker’s manual and local rules override this page.
      If they differ, or the work needs a license you lack, stop and refer it.
    </p>
  </main>
  <p v-else-if="!trouble" class="loading quiet" role="status">Reading the job.</p>
</template>

<style scoped>
.job {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 380px;
  grid-template-areas: 'left right' 'story right' 'note note';
  grid-template-rows: auto 1fr auto;
  align-items: start;
}
.left {
  grid-area: left;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  padding: 12px 20px;
}
.right {
  grid-area: right;
  display: grid;
  gap: 14px;
  padding: 12px 18px 20px;
  border-left: 1px solid var(--rule);
  min-height: calc(100vh - 70px);
  align-content: start;
}
.story {
  grid-area: story;
  padding: 4px 20px 20px;
}
.disclaimer {
  grid-area: note;
  display: none;
}
.trouble {
  margin: 0;
  padding: 10px 20px;
  border-left: 8px solid var(--plum);
  background: var(--panel);
  font-weight: 600;
}
.loading {
  padding: 20px;
}
@media (max-width: 1000px) {
  .job {
    grid-template-columns: minmax(0, 1fr);
    grid-template-areas: 'left' 'right' 'story' 'note';
    grid-template-rows: none;
  }
  .right {
    border-left: none;
    border-top: 1px solid var(--rule);
    min-height: 0;
  }
}
@media print {
  .job {
    display: block;
  }
  .disclaimer {
    display: block;
    padding: 10px 20px;
  }
}
</style>
