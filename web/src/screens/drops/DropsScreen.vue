<script setup lang="ts">
import { computed, ref, toRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { Instrument } from '../../api/client'
import { useShortcuts } from '../../input/useShortcuts'
import DropLadder from '../../pictures/DropLadder.vue'
import StarterPlane from '../../pictures/StarterPlane.vue'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import { CAUTIONS } from '../../words/cautions'
import { STARTER_WORDS } from '../../words/drops'
import { SAY } from '../../words/say'
import { ENGINE_FIRST, conditionWords } from '../../words/tests'
import { capital } from '../../words/units'
import JobPage from '../JobPage.vue'
import MeterPanel from '../meter/MeterPanel.vue'
import { useMeter } from '../meter/useMeter'
import ReadingLog from '../ReadingLog.vue'
import DropNext from './DropNext.vue'
import DropsVerdict from './DropsVerdict.vue'
import { useDrops } from './useDrops'

const props = defineProps<{ id: string; circuit?: string }>()
const router = useRouter()
const drops = useDrops(props.id, toRef(props, 'circuit'))
const { job, view, trouble, refused, person, recorder, busy } = drops
const keysShown = ref(false)
/** Points that the mechanic chose, by their places. */
const picked = ref<number[]>([])
watch(
  () => view.value?.circuit,
  () => (picked.value = []),
)

const pair = computed<[number, number] | undefined>(() => {
  const [one, other] = picked.value
  if (one != null && other != null) return [Math.min(one, other), Math.max(one, other)]
  const next = view.value?.walk.next
  return next && !picked.value.length ? [next.from, next.to] : undefined
})
const red = computed(() => pair.value && view.value?.points[pair.value[0]])
const black = computed(() => pair.value && view.value?.points[pair.value[1]])
const marked = computed(() => (picked.value.length ? picked.value : (pair.value ?? [])))
const stands = computed(() => {
  const [j, v] = [job.value, view.value]
  return j && v ? conditionWords(j.controls, v.condition, v.engine) : ''
})

function pick(point: number) {
  const all = picked.value
  if (all.includes(point)) picked.value = all.filter((p) => p !== point)
  else picked.value = all.length === 2 ? [point] : [...all, point]
}
function choose(circuit: string) {
  void router.replace(`/jobs/${props.id}/drops/${circuit}`)
}
const record = (instrument: Instrument, ends: [string, string], typed: string) =>
  drops.record(instrument, ends, typed)

const instrument = computed<Instrument | undefined>(() => (pair.value ? 'voltmeter' : undefined))
const meter = useMeter(person, instrument, (typed) => {
  const ends = [red.value?.terminal, black.value?.terminal]
  if (ends[0] && ends[1]) void record('voltmeter', [ends[0], ends[1]], typed).then(done)
})
function done(taken = true) {
  if (taken) picked.value = []
}

/** Moves the stand-in's machine and probes there. */
function bring() {
  const [at, from, to] = [view.value, red.value, black.value]
  if (at && from && to) void meter.bring({ ...at, set_up: [], red: from, black: to })
}

useShortcuts((key) => {
  const v = view.value
  const other = v?.circuits[Number(key) - 1]
  const last = v?.readings.at(-1)
  if (key === '?') keysShown.value = true
  else if (key === 'Escape') picked.value = []
  else if (key === 'v') document.querySelector<HTMLInputElement>('.drop-volts input')?.focus()
  else if (key === 'a') document.querySelector<HTMLInputElement>('.clamp-amps input')?.focus()
  else if (key === 'u' && v?.open && last) void drops.takeBack(last.entry)
  else if (other) choose(other.id)
  else return false
  return true
})
</script>

<template>
  <JobPage
    v-model:keys-shown="keysShown"
    v-bind="{ id, job, trouble }"
    :about="SAY.drops.title"
    :ready="Boolean(view)"
    :working="SAY.drops.working"
    :keys="[
      ['1 - 9', 'which circuit'],
      ['v', 'type the volts'],
      ['a', 'type the amps'],
      ['Enter', 'record it'],
      ['u', 'undo the last one'],
      ['Esc', 'back to the next step'],
      ['?', 'this list'],
    ]"
  >
    <template v-if="job && view">
      <UnsentNotice :outbox="recorder" :points="job.test_points" />
      <div class="circuits no-print" role="group" :aria-label="SAY.drops.wantCircuit">
        <v-btn
          v-for="(c, i) in view.circuits"
          :key="c.id"
          height="48"
          :data-circuit="c.id"
          :class="{ strong: c.id === view.circuit }"
          :aria-pressed="c.id === view.circuit"
          @click="choose(c.id)"
          ><kbd>{{ i + 1 }}</kbd
          >&nbsp;{{ c.name }}</v-btn
        >
      </div>
      <div class="two">
        <div class="side">
          <DropsVerdict :id="id" :view="view" />
          <section v-if="view.open" class="card no-print" :aria-label="SAY.drops.next">
            <h2>{{ pair ? SAY.drops.next : SAY.drops.noneLeft }}</h2>
            <p class="set">
              {{ capital(stands) }}.
              <b>{{ ENGINE_FIRST[view.cranks ? 'cranking' : view.engine] }}</b>
            </p>
            <p v-if="view.cranks" class="caution">{{ SAY.drops.clipOn }}</p>
            <p v-for="c in view.cautions" :key="c" class="caution">{{ CAUTIONS[c] }}</p>
            <p v-if="job.still_off.length" class="trouble">
              {{ SAY.drops.putBackFirst }} {{ job.still_off.map((s) => s.name).join(', ') }}
            </p>
            <p v-if="picked.length === 1" class="quiet" role="status">{{ SAY.drops.pickSecond }}</p>
            <DropNext
              :view="view"
              :red="red"
              :black="black"
              :busy="busy"
              :record="record"
              @done="done()"
            />
            <p v-if="refused" class="trouble" role="alert">{{ refused }}</p>
            <p class="quiet">
              {{ SAY.drops.bothPoints }}
              <v-btn v-if="picked.length" height="44" variant="text" @click="picked = []">{{
                SAY.drops.backToOurs
              }}</v-btn>
            </p>
          </section>
          <MeterPanel
            v-if="view.open"
            v-model:address="meter.address.value"
            v-model:on="meter.on.value"
            class="no-print"
            :live="meter.live.value"
            :lost="meter.lost.value"
            :meters="meter.meters.value"
            :idle="!pair"
            :brings="true"
            @off="meter.on.value = false"
            @bring="bring"
          />
          <section v-if="view.walk.starter" class="starter" :aria-label="SAY.drops.starter">
            <h2>{{ STARTER_WORDS[view.walk.starter.word] }}</h2>
            <StarterPlane :plane="view.walk.starter" />
          </section>
          <ReadingLog
            :readings="view.readings"
            :open="view.open"
            :gone="SAY.drops.repairedSince"
            :empty="SAY.drops.nothingRead"
            :file="`/api/v1/jobs/${id}/drops.csv?circuit=${view.circuit}`"
            :file-name="SAY.drops.asCsv"
            @back="drops.takeBack"
          />
        </div>
        <DropLadder :view="view" :marked="marked" @pick="pick" />
      </div>
      <p class="quiet">{{ SAY.drops.adds }} {{ SAY.drops.shopLimits }} {{ view.trade_source }}.</p>
    </template>
  </JobPage>
</template>

<style scoped>
.circuits {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.05fr);
  gap: 32px;
  align-items: start;
}
.side,
.card {
  display: grid;
  gap: 14px;
}
.card {
  padding: 16px 18px;
  border-top: 6px solid var(--slate);
  background: var(--panel);
}
h2 {
  margin: 0;
  font-size: 22px;
}
p {
  margin: 0;
}
.set {
  font-size: 17px;
}
.caution {
  padding-left: 12px;
  border-left: 8px solid var(--ochre);
  font-size: 17px;
}
.starter h2 {
  margin-bottom: 8px;
  font-size: 18px;
}
.trouble {
  padding: 10px 14px;
  border-left: 8px solid var(--plum);
  background: var(--panel);
  font-weight: 600;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
