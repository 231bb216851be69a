<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import type { Observed, TestView } from '../../api/client'
import OperatorStation from '../../pictures/OperatorStation.vue'
import MachineNotices from '../MachineNotices.vue'
import { JOB_KEYS } from '../../words/keys'
import { usePerson } from '../usePerson'
import ComplaintLine from './ComplaintLine.vue'
import BeforePanel from './noticed/BeforePanel.vue'
import DoubtPanel from './noticed/DoubtPanel.vue'
import HeardBar from './noticed/HeardBar.vue'
import JobBar from './JobBar.vue'
import JobCircuit from './JobCircuit.vue'
import JobStory from './JobStory.vue'
import NewerNotice from './NewerNotice.vue'
import NextStep from './test/NextStep.vue'
import BayTools from './bay/BayTools.vue'
import PutBackBar from './PutBackBar.vue'
import RepairCard from './repair/RepairCard.vue'
import ReleasedNotice from './ReleasedNotice.vue'
import StationLine from './StationLine.vue'
import SuspectsColumn from './suspects/SuspectsColumn.vue'
import ShortcutSheet from '../ShortcutSheet.vue'
import UnreadableNotice from '../../lists/UnreadableNotice.vue'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import VerdictPanel from './suspects/VerdictPanel.vue'
import { spoken } from './bay/spoken'
import { useActions } from './test/useActions'
import { useBay } from './bay/useBay'
import { useJob } from './useJob'
import { useJobKeys } from './useJobKeys'
import { useNoticed } from './noticed/useNoticed'
import { useOnward } from './useOnward'
import { useReading } from './useReading'
import { useRecorder } from './useRecorder'
import { useStanding } from './useStanding'
import { useSpeech } from './bay/useSpeech'
import { useTarget } from './test/useTarget'
import { useTitle } from './useTitle'
import { SAY } from '../../words/say'

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
  shown,
  refresh,
  recorded,
  move,
  setAll,
  stand,
  letGo,
} = useJob(props.id)
const { person } = usePerson()
const { bay, toggle: toggleBay } = useBay()
const { toCard, done } = useOnward(bay)
const recorder = useRecorder(props.id, shown, async (of) => {
  await recorded(of)
  if (of) await done()
})
const {
  chosen,
  own,
  target,
  tried,
  marked,
  step: stepTo,
  walkOn,
  toPlan,
  askFor,
  asked,
  skip,
} = useTarget(
  trace,
  diagnosis,
  condition,
  engine,
  fresh,
  computed(() => job.value?.still_off ?? []),
)
const step = ref<InstanceType<typeof NextStep> | null>(null)
const story = ref<InstanceType<typeof JobStory> | null>(null)
const [sheet, worked] = [ref(false), ref(false)]
const doing = useActions(props.id, job, person, trouble, shown, (of) => recorded(of).then(done))
const { busy, before, keep, settle, unsettle, correct, takeBack, takeBackVerdict, setStatus } =
  doing

onMounted(async () => {
  await refresh()
  await recorder.resume()
})
useTitle(job)
const { open, verdict, toRepair } = useStanding(job, chosen)
const { said, refused, recordReading } = useReading(
  recorder,
  person,
  target,
  chosen,
  own,
  walkOn,
  (typed) => step.value?.begin(typed),
  stand,
)
const {
  noticed: recordNoticed,
  putBack,
  again,
  comesAndGoes,
  fixedBetween,
} = useNoticed(recorder, person, condition, engine, job)
const card = computed(() => spoken(target.value, tried.value, job.value?.controls ?? []))
const speech = useSpeech([card, said])

/** What was noticed in a test: the machine stands as the test has it. */
async function answer(observed: Observed, test: TestView) {
  if (test.action.kind === 'try') stand({ set: test.condition, engine: test.engine })
  await recordNoticed(observed, test)
}

async function recordRepairs(repairs: Observed[]) {
  for (const repair of repairs) await recordNoticed(repair)
}

useJobKeys({
  open,
  instrument: computed(() => target.value?.instrument),
  tried,
  controls: computed(() => job.value?.controls ?? []),
  condition,
  step,
  sheet: () => (sheet.value = !sheet.value),
  letGo,
  move,
  stepTo,
  heardNothing: (test) => answer({ kind: 'heard', heard: 'silent' }, test),
  voidLast: () => story.value?.voidLast(),
  bay: toggleBay,
})
</script>

<template>
  <JobBar
    :job="job"
    :supply="diagnosis?.supply_volts"
    @keys="sheet = !sheet"
    @bay="toggleBay"
    @card="toCard"
  />
  <StationLine v-if="job && diagnosis" :job="job" :diagnosis="diagnosis" />
  <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
  <p class="seen-by-readers-only" aria-live="polite">{{ said }}</p>
  <ShortcutSheet
    v-if="sheet"
    :keys="JOB_KEYS"
    class="no-print"
    :controls="job?.controls ?? []"
    @close="sheet = false"
  />
  <main v-if="job && drawn && diagnosis" class="job" :class="{ bay }" :data-lag="Math.round(lag)">
    <div class="card-first no-print">
      <BayTools
        v-if="bay"
        :can="speech.can"
        :spoken="speech.on.value"
        @speak="speech.toggle"
        @close="toggleBay"
      />
      <PutBackBar
        v-if="open"
        :off="job.still_off"
        :jumper-on="job.jumper_on"
        :busy="recorder.busy.value"
        @back="putBack"
        @jumper-off="recordNoticed({ kind: 'battery', event: 'jumper-off' })"
      />
      <DoubtPanel
        v-if="open"
        :job="job"
        :diagnosis="diagnosis"
        :busy="busy"
        @void="takeBack"
        @at-times="comesAndGoes($event, takeBack)"
        @fixed="(entry, repairs) => fixedBetween(entry, repairs, takeBack)"
      />
      <ReleasedNotice v-bind="{ job, busy }" @reopen="setStatus('open')" />
      <VerdictPanel
        v-bind="{ job, diagnosis, busy, unchecked: doing.unchecked.value }"
        @keep="keep"
        @correct="correct"
        @take-back="takeBackVerdict"
        @close="setStatus('closed', $event)"
        @reopen="setStatus('open')"
        @test="askFor"
      />
      <RepairCard
        v-if="open && toRepair && !asked"
        :job="job"
        :units="verdict?.units ?? []"
        :busy="recorder.busy.value"
        :title="SAY.job.whatDidYouDo"
        @repaired="recordRepairs"
      />
      <NextStep
        v-else-if="open"
        ref="step"
        v-model:strategy="strategy"
        :job="job"
        :diagnosis="diagnosis"
        :target="target"
        :tried="tried"
        :condition="condition"
        :engine="engine"
        :waiting="recorder.waiting.value"
        :busy="recorder.busy.value"
        :refused="refused"
        @record="recordReading"
        @observed="answer"
        @said="recordNoticed"
        @skip="(skip(), done())"
        @plan="toPlan"
        @own="own = $event"
        @set="setAll"
        @back="putBack"
      />
    </div>
    <div class="left">
      <ComplaintLine :job="job" @changed="refresh" />
      <MachineNotices :of="job" :machine="job.machine" />
      <NewerNotice v-bind="{ job, busy, open }" @follow="doing.follow" />
      <OperatorStation
        class="no-print"
        :controls="job.controls"
        :condition="condition"
        @move="move"
      />
      <UnsentNotice :outbox="recorder" :points="job.test_points" />
      <UnreadableNotice :rows="job.unreadable" :what="SAY.job.ofThisJobsEntries" />
      <HeardBar
        :drawn="drawn"
        :engine="engine"
        :busy="recorder.busy.value"
        :closed="!open"
        :diagnosis="diagnosis"
        :job="job"
        @noticed="(observed, how, at) => recordNoticed(observed, undefined, how, at)"
        @before="worked = !worked"
      />
      <BeforePanel
        v-if="worked && open"
        class="no-print"
        :job="job"
        :busy="recorder.busy.value"
        @said="(observed) => recordNoticed(observed, undefined, { source: 'told' })"
        @close="worked = false"
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
    <SuspectsColumn
      class="right no-print"
      v-bind="{ job, diagnosis, busy, open, verdict: Boolean(verdict), rewired: Boolean(before) }"
      @keep="keep"
      @settle="settle"
      @unsettle="unsettle"
      @test="askFor"
    />
    <div class="story">
      <JobStory
        ref="story"
        :job="job"
        :diagnosis="diagnosis"
        :busy="busy"
        @void="takeBack"
        @again="again($event, {})"
      />
    </div>
    <p class="disclaimer">
      {{ SAY.common.kelvokDoesNotCertifyThis }}
    </p>
  </main>
  <p v-else-if="!trouble" class="loading quiet" role="status">{{ SAY.common.loading }}</p>
</template>

<style scoped src="./job.css"></style>
