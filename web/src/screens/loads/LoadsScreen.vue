<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Instrument } from '../../api/client'
import { useShortcuts } from '../../input/useShortcuts'
import OhmRuler from '../../pictures/OhmRuler.vue'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import {
  BAD,
  LOAD_MISFITS,
  factWords,
  shouldWords,
  verdictWords,
  type LoadNext,
} from '../../words/loads'
import { SAY } from '../../words/say'
import { capital } from '../../words/units'
import PutBackBar from '../job/PutBackBar.vue'
import JobPage from '../JobPage.vue'
import MeterPanel from '../meter/MeterPanel.vue'
import { useMeter } from '../meter/useMeter'
import ReadingLog from '../ReadingLog.vue'
import LoadList from './LoadList.vue'
import LoadNextForm from './LoadNextForm.vue'
import { useLoads } from './useLoads'

const props = defineProps<{ id: string; load?: string }>()
const router = useRouter()
const loads = useLoads(props.id, () => props.load)
const { job, view, trouble, refused, person, recorder, kind, kinds, chosen, at } = loads
const own = loads.load
const keysShown = ref(false)

const choose = (id: string) => void router.replace(`/jobs/${props.id}/loads/${id}`)
const standing = computed(() => own.value?.standing)
const others = computed(() => kinds.value.filter((k) => k !== kind.value))
const READS: { [kind in LoadNext]: string } = {
  ohms: SAY.loads.ohms,
  volts: SAY.loads.volts,
  amps: SAY.loads.amps,
  insulation: SAY.loads.insulation,
}
const LETTERS: { [letter: string]: LoadNext } = {
  o: 'ohms',
  v: 'volts',
  a: 'amps',
  f: 'insulation',
}

const instrument = computed<Instrument | undefined>(() => at.value?.instrument)
const meter = useMeter(person, instrument, (typed) => void loads.record(typed))

useShortcuts((key) => {
  const other = view.value?.loads[Number(key) - 1]
  const letter = LETTERS[key]
  const last = own.value?.readings.at(-1)
  if (key === '?') keysShown.value = true
  else if (key === 'u' && view.value?.open && last) void loads.takeBack(last.entry)
  else if (letter && kinds.value.includes(letter)) {
    chosen.value = letter
    requestAnimationFrame(() =>
      document.querySelector<HTMLInputElement>('.reading-typed input')?.focus(),
    )
  } else if (other) choose(other.id)
  else return false
  return true
})
</script>

<template>
  <JobPage
    v-model:keys-shown="keysShown"
    v-bind="{ id, job, trouble }"
    :about="SAY.loads.title"
    :ready="Boolean(view)"
    :working="SAY.loads.working"
    :keys="[
      ['1 - 9', 'which one'],
      ['o', 'type ohms'],
      ['v', 'type volts'],
      ['a', 'type amps'],
      ['f', 'type ohms to the frame'],
      ['Enter', 'record it'],
      ['u', 'undo the last one'],
      ['?', 'this list'],
    ]"
  >
    <template v-if="job && view">
      <UnsentNotice :outbox="recorder" :points="job.test_points" />
      <p v-if="!view.loads.length">{{ SAY.loads.none }}</p>
      <PutBackBar
        class="no-print"
        :off="job.still_off"
        :busy="recorder.busy.value"
        @back="loads.putBack"
      />
      <div class="two">
        <LoadList :loads="view.loads" :chosen="own?.id" @choose="choose" />
        <div v-if="own && standing" class="own">
          <section :aria-label="capital(own.name)">
            <h2>{{ capital(own.name) }}</h2>
            <p class="word" :class="{ bad: BAD.includes(standing.word) }" aria-live="polite">
              {{ verdictWords(standing) }}
            </p>
            <p class="should">{{ SAY.loads.should }} {{ shouldWords(own) }}.</p>
            <p v-for="line in factWords(own)" :key="line" class="fact">{{ line }}.</p>
            <template v-if="standing.misfits.length">
              <h3>{{ SAY.loads.itCanBe }}</h3>
              <ul class="misfits">
                <li v-for="m in standing.misfits" :key="m">{{ LOAD_MISFITS[m] }}.</li>
              </ul>
            </template>
            <OhmRuler :load="own" />
            <p v-if="standing.word === 'shorted'" class="no-print">
              {{ SAY.loads.burnsSwitches }}
              <RouterLink class="fuses" :to="`/jobs/${id}/fuses`">{{
                SAY.fuses.lookAt
              }}</RouterLink>
            </p>
          </section>
          <section v-if="view.open" class="card no-print" :aria-label="SAY.loads.next">
            <h2>{{ kind ? SAY.loads.next : SAY.loads.noneLeft }}</h2>
            <LoadNextForm v-if="kind" :job="job" :loads="loads" />
            <p v-if="refused" class="trouble" role="alert">{{ refused }}</p>
            <div v-if="others.length" class="others">
              <span>{{ SAY.loads.orRead }}</span>
              <v-btn v-for="k in others" :key="k" height="44" @click="chosen = k">{{
                READS[k]
              }}</v-btn>
            </div>
          </section>
          <MeterPanel
            v-if="view.open"
            v-model:address="meter.address.value"
            v-model:on="meter.on.value"
            class="no-print"
            :live="meter.live.value"
            :lost="meter.lost.value"
            :meters="meter.meters.value"
            :idle="!at"
            :brings="true"
            @off="meter.on.value = false"
            @bring="meter.bring(at)"
          />
          <ReadingLog
            :readings="own.readings"
            :open="view.open"
            :gone="SAY.loads.replacedSince"
            :empty="SAY.loads.nothingRead"
            :file="`/api/v1/jobs/${id}/loads.csv`"
            :file-name="SAY.loads.asCsv"
            @back="loads.takeBack"
          />
        </div>
      </div>
      <p class="quiet">{{ SAY.loads.from }} {{ view.copper_source }}.</p>
    </template>
  </JobPage>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(200px, 320px) minmax(0, 1fr);
  gap: 32px;
  align-items: start;
}
.own,
.card {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 14px;
}

h2,
h3,
p {
  margin: 0;
}
h2 {
  font-size: 22px;
}
h3 {
  margin-top: 10px;
  font-size: 18px;
}
.word {
  font-size: 30px;
  font-weight: 700;
  line-height: 1.15;
}
.word.bad {
  color: var(--plum);
}
.should,
.fact {
  font-size: 17px;
}
.fuses {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--slate);
}
.misfits {
  margin: 4px 0 8px;
  padding-left: 20px;
  font-size: 17px;
}
.card {
  padding: 16px 18px;
  border-top: 6px solid var(--slate);
  background: var(--panel);
}
.others {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.trouble {
  padding: 10px 14px;
  border-left: 8px solid var(--plum);
  font-weight: 600;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
    gap: 18px;
  }
}
</style>
