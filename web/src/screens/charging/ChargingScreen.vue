<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Instrument } from '../../api/client'
import { useShortcuts } from '../../input/useShortcuts'
import ChargeLanes from '../../pictures/ChargeLanes.vue'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import {
  CHARGE_CAUTIONS,
  CHARGE_DOES,
  CHARGE_KINDS,
  CHARGE_NOTES,
  WRONG,
  goodWords,
  saysWords,
  typedWords,
} from '../../words/charging'
import { SAY } from '../../words/say'
import { DIAL } from '../../words/tests'
import PutBackBar from '../job/PutBackBar.vue'
import JobPage from '../JobPage.vue'
import MeterPanel from '../meter/MeterPanel.vue'
import { useMeter } from '../meter/useMeter'
import NextReading from '../NextReading.vue'
import ReadingLog from '../ReadingLog.vue'
import ChargePlaces from './ChargePlaces.vue'
import { useCharging } from './useCharging'

const props = defineProps<{ id: string }>()
const charging = useCharging(props.id)
const { job, view, trouble, refused, person, recorder, busy, system, kinds, kind, chosen, site } =
  charging
const keysShown = ref(false)

const standing = computed(() => system.value?.standing)
const says = computed(() => (standing.value ? saysWords(standing.value) : ''))
/** What tells something first, then the rest. */
const others = computed(() => {
  const worth = standing.value?.or ?? []
  const all = [...worth, ...kinds.value.filter((k) => !worth.includes(k))]
  return all.filter((k) => k !== kind.value)
})
const turns = computed(() => {
  if (!site.value || site.value.engine === 'stopped') return undefined
  return site.value.idle ? SAY.charging.idleNow : SAY.charging.fullNow
})
const dial = computed(() => {
  if (!site.value) return ''
  return site.value.kind === 'frame' ? SAY.charging.highestOhms : DIAL[site.value.instrument]
})
const typed = computed(() => (kind.value ? typedWords(kind.value) : undefined))
/** The battery goes on a charger, and is read again. */
const charge = computed(() => {
  const noted = standing.value?.notes ?? []
  return noted.includes('charge-first') || (noted.includes('when-full') && !standing.value?.next)
})
/** Something is to be put right. */
const part = computed(() => {
  const place = standing.value?.says?.place
  return place !== undefined && place !== 'nowhere'
})
const feed = computed(() => {
  const place = standing.value?.says?.place
  return place === 'feed' || place === 'ground'
})

const instrument = computed<Instrument | undefined>(() =>
  site.value?.clamp ? undefined : site.value?.instrument,
)
const meter = useMeter(person, instrument, (read) => void charging.record(read))

useShortcuts((key) => {
  const last = system.value?.readings.at(-1)
  const other = kinds.value[Number(key) - 1]
  if (key === '?') keysShown.value = true
  else if (key === 'u' && view.value?.open && last) void charging.takeBack(last.entry)
  else if (key === 'r') focus()
  else if (other) {
    chosen.value = other
    focus()
  } else return false
  return true
})
const focus = () =>
  requestAnimationFrame(() =>
    document.querySelector<HTMLInputElement>('.reading-typed input')?.focus(),
  )
</script>

<template>
  <JobPage
    v-model:keys-shown="keysShown"
    v-bind="{ id, job, trouble }"
    :about="SAY.charging.title"
    :ready="Boolean(view)"
    :working="SAY.charging.working"
    :keys="[
      ['r', 'type the reading'],
      ['1 - 9', 'which reading'],
      ['Enter', 'record it'],
      ['u', 'undo the last one'],
      ['?', 'this list'],
    ]"
  >
    <template v-if="job && view">
      <UnsentNotice :outbox="recorder" :points="job.test_points" />
      <p v-if="!system || !standing">{{ SAY.charging.nothingCharges }}</p>
      <template v-else>
        <PutBackBar
          class="no-print"
          :off="job.still_off"
          :busy="recorder.busy.value"
          @back="charging.putBack"
        />
        <div class="two">
          <section class="found" :aria-label="SAY.charging.title">
            <p class="word" :class="{ bad: WRONG.includes(standing.does) }" aria-live="polite">
              {{ CHARGE_DOES[standing.does] }}
            </p>
            <p v-if="says" class="says" aria-live="polite">{{ says }}</p>
            <p v-for="n in standing.notes" :key="n" class="note">{{ CHARGE_NOTES[n] }}.</p>
            <div v-if="view.open && (charge || part)" class="row no-print">
              <v-btn v-if="charge" height="48" :disabled="busy" @click="charging.charged">{{
                SAY.charging.chargedNow
              }}</v-btn>
              <v-btn v-if="part" class="strong" height="48" :to="`/jobs/${id}`">{{
                SAY.charging.toRepair
              }}</v-btn>
            </div>
            <p v-if="feed" class="no-print">
              <RouterLink class="walk" :to="`/jobs/${id}/drops/${system.circuit}`">{{
                SAY.charging.walkIt
              }}</RouterLink>
            </p>
            <ChargeLanes :system="system" />
            <ChargePlaces v-if="system.readings.length" :system="system" />
          </section>
          <div class="todo">
            <section v-if="view.open" class="card no-print" :aria-label="SAY.charging.next">
              <h2>{{ kind ? CHARGE_KINDS[kind] : SAY.charging.noneLeft }}</h2>
              <NextReading
                v-if="kind && site && typed"
                :job="job"
                :of="kind"
                :condition="site.condition"
                :engine="site.engine"
                :turns="turns"
                :set-up="site.set_up"
                :cautions="site.cautions"
                :mind="CHARGE_CAUTIONS[kind]"
                :red="site.red"
                :black="site.black"
                :around="site.clamp?.name"
                :dial="dial"
                :good="goodWords(system, kind)"
                :label="typed.label"
                :unit="typed.unit"
                :open="typed.open"
                :busy="busy"
                :record="charging.record"
              />
              <p v-if="refused" class="trouble" role="alert">{{ refused }}</p>
              <div class="others">
                <span>{{ SAY.charging.worthIt }}</span>
                <v-btn
                  v-for="k in others"
                  :key="k"
                  height="44"
                  :class="{ worth: standing.or.includes(k) }"
                  @click="chosen = k"
                  >{{ CHARGE_KINDS[k] }}</v-btn
                >
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
              :idle="!instrument"
              :brings="true"
              @off="meter.on.value = false"
              @bring="meter.bring(site)"
            />
            <ReadingLog
              :readings="system.readings"
              :open="view.open"
              :gone="SAY.charging.replacedSince"
              :empty="SAY.charging.nothingRead"
              :file="`/api/v1/jobs/${id}/charging.csv`"
              :file-name="SAY.charging.asCsv"
              @back="charging.takeBack"
            />
          </div>
        </div>
        <p class="quiet">{{ SAY.charging.from }} {{ view.source }}.</p>
      </template>
    </template>
  </JobPage>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 32px;
  align-items: start;
}
.found,
.todo,
.card {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 14px;
}
h2,
p {
  margin: 0;
}
h2 {
  font-size: 22px;
}
.word {
  font-size: 34px;
  font-weight: 700;
  line-height: 1.1;
}
.word.bad {
  color: var(--plum);
}
.says {
  font-size: 21px;
  font-weight: 600;
}
.note {
  padding-left: 12px;
  border-left: 8px solid var(--ochre);
  font-size: 17px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.walk {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--slate);
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
.others .worth {
  font-weight: 700;
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
  .todo {
    display: contents;
  }
  .card {
    order: -1;
  }
  .todo > :not(.card) {
    order: 1;
  }
}
</style>
