<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import type { Instrument } from '../../api/client'
import OperatorStation from '../../pictures/OperatorStation.vue'
import SuspectList from '../../pictures/SuspectList.vue'
import FoundNotice from '../FoundNotice.vue'
import { JOB_KEYS } from '../../words/keys'
import { usePerson } from '../usePerson'
import BeforePanel from './noticed/BeforePanel.vue'
import CannotBe from './suspects/CannotBe.vue'
import DoubtPanel from './noticed/DoubtPanel.vue'
import HeardBar from './noticed/HeardBar.vue'
import JobBar from './JobBar.vue'
import JobCircuit from './JobCircuit.vue'
import JobStory from './JobStory.vue'
import NextStep from './test/NextStep.vue'
import ProofPanel from './suspects/ProofPanel.vue'
import ShortcutSheet from '../ShortcutSheet.vue'
import UnreadableNotice from '../../lists/UnreadableNotice.vue'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import VerdictPanel from './suspects/VerdictPanel.vue'
import { useActions } from './test/useActions'
import { useJob } from './useJob'
import { useJobKeys } from './useJobKeys'
import { useNoticed } from './noticed/useNoticed'
import { useRecorder } from './useRecorder'
import { useTarget } from './test/useTarget'
import { useTitle } from './useTitle'

const props = defineProps<{ id: string }>()

const {
  job,
  drawn,
  fresh,
  trace,
  diagnosis,
  circuit,
  condition,
  engine,
  strategy,
  trouble,
  lag,
  toUndo,
  shown,
  refresh,
  recorded,
  move,
  setAll,
  letGo,
} = useJob(props.id)
const { person, load: loadPeople } = usePerson()
const recorder = useRecorder(props.id, shown, recorded)
const {
  chosen,
  own,
  target,
  tried,
  marked,
  step: stepTo,
  walkOn,
  toPlan,
  skip,
} = useTarget(trace, diagnosis, condition, engine, fresh)
const step = ref<InstanceType<typeof NextStep> | null>(null)
const story = ref<InstanceType<typeof JobStory> | null>(null)
const [sheet, before] = [ref(false), ref(false)]
const said = ref('')
/** Why the last reading was refused. */
const refused = ref<string>()
const { busy, keep, takeBack, takeBackVerdict, setStatus } = useActions(
  props.id,
  job,
  person,
  trouble,
  shown,
  recorded,
)

onMounted(async () => {
  await Promise.all([refresh(), loadPeople().catch(() => undefined)])
  await recorder.resume()
})

useTitle(job)
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
    engine: at.engine,
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
    step.value?.begin(typed)
    return
  }
  own.value = undefined
  if (walking && chosen.value === walking) walkOn()
  said.value = `Recorded ${typed} at ${at.red.name}.`
}

const { noticed: recordNoticed, comesAndGoes } = useNoticed(recorder, person, condition, engine)

useJobKeys({
  open,
  instrument: computed(() => target.value?.instrument),
  diagnosis,
  controls: computed(() => job.value?.controls ?? []),
  condition,
  step,
  sheet: () => (sheet.value = !sheet.value),
  letGo,
  move,
  stepTo,
  heardNothing: () => recordNoticed({ kind: 'heard', heard: 'silent' }),
  voidLast: () => story.value?.voidLast(),
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
        :keys="JOB_KEYS"
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
      <UnsentNotice :outbox="recorder" :points="job.test_points" />
      <UnreadableNotice :rows="job.unreadable" what="of this job’s entries" />
      <HeardBar
        :drawn="drawn"
        :engine="engine"
        :busy="recorder.busy.value || !open"
        :diagnosis="diagnosis"
        @noticed="(observed, how) => recordNoticed(observed, undefined, how)"
        @before="before = !before"
      />
      <BeforePanel
        v-if="before && open"
        class="no-print"
        :job="job"
        :busy="recorder.busy.value"
        @said="(observed) => recordNoticed(observed, undefined, { source: 'told' })"
        @close="before = false"
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
      <DoubtPanel
        :job="job"
        :diagnosis="diagnosis"
        :busy="busy"
        @void="takeBack"
        @at-times="comesAndGoes($event, takeBack)"
      />
      <VerdictPanel
        :job="job"
        :diagnosis="diagnosis"
        :busy="busy"
        @keep="keep"
        @take-back="takeBackVerdict"
        @close="setStatus('closed')"
        @reopen="setStatus('open')"
      />
      <NextStep
        v-if="open && !decided"
        ref="step"
        v-model:strategy="strategy"
        :job="job"
        :diagnosis="diagnosis"
        :target="target"
        :tried="tried"
        :chosen="!!chosen || !!own"
        :condition="condition"
        :waiting="recorder.waiting.value"
        :busy="recorder.busy.value"
        :refused="refused"
        @record="recordReading"
        @observed="recordNoticed"
        @skip="skip"
        @plan="toPlan"
        @own="own = $event"
        @set="setAll"
      />
      <SuspectList :diagnosis="diagnosis" :most="6" />
      <CannotBe :job="job" :excluded="diagnosis.excluded" />
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
