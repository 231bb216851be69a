<script setup lang="ts">
import { computed, onMounted, shallowRef, ref } from 'vue'
import { ApiError, api, type CircuitView, type DiagnosisView, type JobView } from '../../api/client'
import GateTrack from '../../pictures/GateTrack.vue'
import KillLadder from '../../pictures/KillLadder.vue'
import { dateAndDay, percent } from '../../words/numbers'
import { offWords } from '../../words/temporary'
import { capital, list, unitName } from '../../words/units'
import TopBar from '../TopBar.vue'
import SheetEntries from './SheetEntries.vue'
import { chaptersOf } from './chapters'
import { SAY } from '../../words/say'

/** What goes on paper: a sheet for the customer, or all of it for the file. */
const props = defineProps<{ id: string; kind: 'customer' | 'file' }>()

const job = shallowRef<JobView>()
const diagnosis = shallowRef<DiagnosisView>()
const drawn = shallowRef<CircuitView>()
const trouble = ref('')

onMounted(async () => {
  try {
    const state = await api.jobState(props.id, { strategy: 'best-split' })
    job.value = state.job
    diagnosis.value = state.follows.diagnosis
    // The picture is of the complaint, wherever the controls were left.
    const { condition, reproduce } = state.follows.diagnosis
    const said = ['heard', 'engine', 'blades', 'lamp']
    const noticed = state.job.evidence.filter(
      (e) => !e.voided && said.includes(e.entry.observation.kind),
    )
    const engine = noticed.at(-1)?.entry.engine ?? reproduce?.engine ?? 'stopped'
    const { circuit } = state.follows.drawn
    drawn.value = await api.trace(props.id, circuit, { set: condition, engine })
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
  }
})

const file = computed(() => props.kind === 'file')
const chapters = computed(() => job.value && chaptersOf(job.value))
const verdict = computed(() => job.value?.verdicts.filter((v) => !v.voided).at(-1))
const wrong = computed(() => {
  const units = verdict.value?.units.filter((u) => u.kind !== 'nothing') ?? []
  if (units.length) return `${capital(list(units.map(unitName), 'or'))}.`
  return verdict.value ? 'Nothing found. It would not act up here.' : 'Not found yet.'
})
const facts = computed(() =>
  job.value
    ? [
        ['Owner', job.value.owner],
        ['Machine', `${job.value.make} ${job.value.model}, ${job.value.family}`],
        ['Tag', job.value.tag],
        ['Serial', job.value.serial],
        ['Hours', job.value.hours == null ? '' : String(job.value.hours)],
        ['In', dateAndDay(job.value.opened_at)],
        ['State', job.value.status === 'open' ? 'Still open' : 'Closed'],
      ].filter(([, value]) => value)
    : [],
)

function print() {
  window.print()
}
</script>

<template>
  <TopBar class="no-print">
    <h1 v-if="job">{{ file ? SAY.sheet.sheetForTheFile : SAY.sheet.sheetForTheCustomer }}</h1>
    <template #right>
      <v-btn variant="text" :to="`/jobs/${id}`">{{ SAY.common.backToTheJob }}</v-btn>
      <v-btn variant="text" :to="`/jobs/${id}/sheet/${file ? 'customer' : 'file'}`">{{
        file ? SAY.sheet.forTheCustomer : SAY.sheet.forTheFile
      }}</v-btn>
      <v-btn class="strong" @click="print">{{ SAY.common.print }}</v-btn>
    </template>
  </TopBar>
  <p v-if="trouble" class="sheet" role="alert">{{ trouble }}</p>
  <main v-if="job && diagnosis && chapters" class="sheet">
    <h2>Job {{ job.number }} · {{ dateAndDay(new Date().toISOString()) }}</h2>
    <dl>
      <div v-for="[name, value] in facts" :key="name">
        <dt>{{ name }}</dt>
        <dd>{{ value }}</dd>
      </div>
    </dl>
    <h3>{{ SAY.sheet.whatYouToldUs }}</h3>
    <p>{{ job.complaint }}</p>
    <h3>{{ SAY.sheet.whatWasWrong }}</h3>
    <p>{{ wrong }} {{ verdict?.note }}</p>
    <p v-if="file && verdict">
      {{ percent(verdict.probability) }} sure from the readings. Said by {{ verdict.recorded_by }}.
    </p>
    <div v-if="drawn && (file || verdict)" class="picture">
      <GateTrack v-if="drawn.shape === 'track'" :trace="drawn" :chosen="undefined" />
      <KillLadder v-else :ladder="drawn" />
    </div>
    <h3>{{ SAY.common.whatWasDone }}</h3>
    <SheetEntries :job="job" :entries="chapters.repairs" none="No repair recorded." />
    <h3>{{ SAY.sheet.whatWasCheckedAfterThat }}</h3>
    <SheetEntries
      :job="job"
      :entries="chapters.checks"
      none="Nothing was tried after the repair."
    />
    <template v-if="job.soak">
      <h3>{{ SAY.soak.title }}</h3>
      <p>{{ job.soak }}</p>
    </template>
    <template v-if="job.still_off.length">
      <h3>{{ SAY.common.toPutBack }}</h3>
      <p>{{ capital(list(job.still_off.map(offWords), 'and')) }}.</p>
    </template>
    <p v-if="job.jumper_on">{{ SAY.job.jumperCablesOn }}</p>
    <template v-if="file">
      <h3>{{ SAY.sheet.everythingRecorded }}</h3>
      <SheetEntries :job="job" :entries="chapters.counted" none="Nothing recorded." signed />
      <h3>{{ SAY.sheet.undone }}</h3>
      <SheetEntries :job="job" :entries="chapters.undone" none="Nothing undone." signed />
      <h3>{{ SAY.sheet.notTested }}</h3>
      <p>{{ diagnosis.not_touched.join('; ') || SAY.sheet.everyContactFuseAndCoil }}</p>
    </template>
    <p v-else>
      {{ SAY.sheet.onlyWhatIsListedHere }}
    </p>
    <p class="last">
      {{ SAY.sheet.kelvokDoesNotCertifyThis }}
    </p>
  </main>
</template>

<style>
/* Paper of the sheets only: other prints fill their page. */
@page sheet {
  margin: 14mm;
}
@media print {
  main.sheet {
    page: sheet;
    padding: 0;
  }
}
</style>

<style scoped>
h1 {
  margin: 0;
  font-size: 17px;
}
.sheet {
  width: 100%;
  max-width: 800px;
  margin: 0 auto;
  padding: 20px;
}
h2 {
  font-size: 24px;
  margin: 0 0 8px;
}
h3 {
  font-size: 17px;
  margin: 16px 0 2px;
  break-after: avoid;
}
p {
  margin: 2px 0;
  overflow-wrap: anywhere;
}
dl {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 2px 20px;
  margin: 0;
}
dl div {
  display: flex;
  gap: 8px;
}
dt {
  min-width: 66px;
  color: var(--quiet);
}
dd {
  margin: 0;
  font-weight: 600;
}
.picture {
  margin: 10px 0;
  overflow-x: auto;
  break-inside: avoid;
}
@media print {
  .picture {
    zoom: 0.8;
  }
}
.last {
  margin-top: 20px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
  font-size: 14px;
}
</style>
