<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { ApiError, api, type JobView, type Sign, type SweepView } from '../../api/client'
import { useShortcuts } from '../../input/useShortcuts'
import { CAUTIONS } from '../../words/cautions'
import { DIAL, moves, setUpWords } from '../../words/tests'
import { capital } from '../../words/units'
import TopBar from '../TopBar.vue'
import { useRecorder } from '../job/useRecorder'
import { usePerson } from '../usePerson'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import StandList from './StandList.vue'
import { SAYS, answersOf, typedSign } from './signs'

const props = defineProps<{ id: string }>()

const job = ref<JobView>()
const sweeps = ref<SweepView[]>()
const circuit = ref<string>()
const at = ref(0)
const trouble = ref('')
const refused = ref('')
const said = ref('')
const { person, load: loadPeople } = usePerson()

async function load() {
  try {
    const [view, found] = await Promise.all([api.job(props.id), api.sweeps(props.id)])
    job.value = view
    sweeps.value = found
    circuit.value ??= (found.find((s) => s.walk) ?? found[0])?.circuit
    trouble.value = ''
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
    if (error.passing) window.setTimeout(() => void load(), 2000)
  }
}
const recorder = useRecorder(props.id, () => undefined, load)
onMounted(async () => {
  await Promise.all([load(), loadPeople().catch(() => undefined)])
  at.value = Math.max(walk.value?.stands.findIndex((s) => !s.found) ?? 0, 0)
  await recorder.resume()
})

const walk = computed(() => sweeps.value?.find((s) => s.circuit === circuit.value)?.walk)
const stands = computed(() => walk.value?.stands ?? [])
const stand = computed(() => stands.value[at.value])
const before = computed(() => stands.value[at.value - 1]?.condition ?? {})
const toMove = computed(() =>
  job.value && stand.value ? moves(job.value.controls, before.value, stand.value.condition) : [],
)
const wrong = computed(() => stands.value.filter((s) => s.found && s.found.sign !== s.shows).length)
const putBack = computed(() =>
  walk.value?.set_up.some((s) => s.entry.kind === 'battery-off')
    ? 'Plug the module in again, the battery clamp last.'
    : 'Plug the module in again.',
)
const done = computed(() => stands.value.filter((s) => s.found).length)
const open = computed(() => job.value?.status === 'open')

async function record(sign: Sign, deadSpot = false) {
  const here = stand.value
  const by = walk.value
  if (!here || !by || !open.value) return
  const [instrument, typed] = typedSign(by.instrument, sign)
  refused.value = ''
  said.value = `${SAYS[sign]} recorded at step ${at.value + 1}.`
  // On to the next at once; what is recorded waits for the server, not the hands for it.
  if (at.value < stands.value.length - 1) at.value += 1
  const outcome = await recorder.record({
    by: person.value,
    condition: here.condition,
    engine: 'stopped',
    set_up: by.set_up.map((s) => s.entry),
    observed: {
      kind: 'reading',
      instrument,
      red: by.red.terminal,
      black: by.black.terminal,
      typed,
    },
    repeats: 1,
    at_times: deadSpot,
  })
  if (!outcome.kept) refused.value = outcome.problem.message
}

useShortcuts((key) => {
  const here = stand.value
  if (!here) return false
  switch (key) {
    case 'z':
      void record('buzzes')
      return true
    case 'n':
      void record('silent')
      return true
    case 'd':
      if (walk.value?.instrument !== 'diode-range') return false
      void record('drop')
      return true
    case '[':
    case ']':
      at.value = Math.min(Math.max(at.value + (key === ']' ? 1 : -1), 0), stands.value.length - 1)
      return true
    default:
      return false
  }
})
</script>

<template>
  <TopBar>
    <template v-if="job"
      ><h1>{{ job.make }} {{ job.model }}</h1>
      <span class="quiet">{{ job.tag }} · sweep of the kill wire</span></template
    >
    <template #right>
      <v-btn variant="text" :to="`/jobs/${id}`">Back to the job</v-btn>
    </template>
  </TopBar>
  <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
  <p class="seen-by-readers-only" aria-live="polite">{{ said }}</p>
  <main v-if="job && sweeps">
    <div v-if="sweeps.length > 1" role="group" aria-label="Kill circuits" class="row">
      <v-btn
        v-for="s in sweeps"
        :key="s.circuit"
        :aria-pressed="circuit === s.circuit"
        @click="((circuit = s.circuit), (at = 0))"
        >{{ capital(s.name) }}</v-btn
      >
    </div>
    <p v-if="!sweeps.length" class="empty">
      This machine has no kill wire: nothing of it is stopped by grounding a wire.
    </p>
    <p v-else-if="!walk" class="empty">
      No plug takes the module off this wire where a probe can be put, so it cannot be swept. Follow
      the plan on the job instead: it tests the same contacts one by one.
    </p>
    <div v-else class="two">
      <section class="now" aria-label="Step">
        <p class="set-up">
          {{ setUpWords(walk.set_up) }} {{ DIAL[walk.instrument] }} <b>Red</b>
          {{ walk.red.name }} ({{ walk.red.place }}), <b>black</b> {{ walk.black.name }}. Leave both
          there: from here on only controls are moved.
        </p>
        <p v-for="c in walk.cautions" :key="c" class="caution">{{ CAUTIONS[c] }}</p>
        <template v-if="stand">
          <p class="count">Step {{ at + 1 }} of {{ stands.length }}</p>
          <p class="do">
            <template v-if="toMove.length">{{ toMove.join(', ') }}</template><template
              v-else-if="at === 0"
              >All controls as parked</template
            ><template v-else>As it stands</template>
          </p>
          <p class="expect">
            Sound: <b>{{ SAYS[stand.shows].toLowerCase() }}</b>
          </p>
          <div class="answers" role="group" aria-label="What it does">
            <v-btn
              v-for="a in answersOf(walk.instrument)"
              :key="a.sign"
              height="72"
              :disabled="!open"
              @click="record(a.sign)"
              ><kbd>{{ a.key }}</kbd
              >&nbsp;{{ SAYS[a.sign] }}</v-btn
            >
          </div>
          <div class="row">
            <v-btn
              :disabled="!open"
              @click="record(stand.shows === 'silent' ? 'buzzes' : 'silent', true)"
              >Dead spot: comes and goes as it moves</v-btn
            >
            <v-btn :disabled="at === 0" @click="at -= 1">Back a step</v-btn>
          </div>
          <p class="tells quiet">
            <template v-if="stand.tells.length"
              >Tells of: {{ stand.tells.join('; ').toLowerCase() }}.</template
            >
          </p>
        </template>
        <p v-if="recorder.waiting.value" class="waiting" role="alert">
          The server or its database does not answer. What you said is kept here and goes in, in
          order, as soon as it does.
        </p>
        <UnsentNotice :outbox="recorder" :points="job.test_points" />
        <p v-if="refused" class="trouble" role="alert">{{ refused }}</p>
        <p v-if="done === stands.length" class="end" role="status">
          <b>{{
            wrong
              ? `${wrong} of ${done} steps are not as they should be.`
              : 'Every step is as it should be.'
          }}</b>
          {{ putBack }}
          <v-btn :to="`/jobs/${id}`">What it means, on the job</v-btn>
        </p>
      </section>
      <StandList :walk="walk" :controls="job.controls" :at="at" @go="at = $event" />
    </div>
  </main>
  <p v-else-if="!trouble" class="loading quiet" role="status">Working out the steps.</p>
</template>

<style scoped>
h1 {
  display: inline;
  margin-right: 8px;
  font-size: 17px;
}
main {
  padding: 12px 20px 24px;
  display: grid;
  gap: 12px;
}
p {
  margin: 0;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
  gap: 28px;
  align-items: start;
}
.now {
  display: grid;
  gap: 10px;
}
.set-up {
  font-size: 17px;
  line-height: 1.35;
}
.count {
  color: var(--quiet);
}
.do {
  font-size: 34px;
  font-weight: 700;
  line-height: 1.15;
}
.expect {
  font-size: 22px;
}
.answers,
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
.answers :deep(.v-btn) {
  flex: 1 1 160px;
  font-size: 22px;
}
.end {
  padding: 10px 14px;
  border-left: 8px solid var(--moss);
  background: var(--panel);
}
.trouble {
  font-weight: 600;
}
.trouble,
.loading,
.empty {
  padding: 10px 20px;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
