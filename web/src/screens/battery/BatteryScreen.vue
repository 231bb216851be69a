<script setup lang="ts">
import { computed, ref } from 'vue'
import type { BatteryReading, BatteryTest } from '../../api/client'
import { useShortcuts } from '../../input/useShortcuts'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import { BATTERY_CAUTIONS, BATTERY_READINGS } from '../../words/battery'
import { SAY } from '../../words/say'
import JobPage from '../JobPage.vue'
import ReadingLog from '../ReadingLog.vue'
import BatteryForm from './BatteryForm.vue'
import BatteryVerdict from './BatteryVerdict.vue'
import type { Taken } from './taken'
import { useBattery } from './useBattery'

const props = defineProps<{ id: string }>()
const battery = useBattery(props.id)
const { job, view, trouble, refused, degrees, recorder, busy } = battery
const keysShown = ref(false)
/** What was chosen instead of what is asked for. */
const chosen = ref<Taken>()

const asked = computed(() => view.value?.standing.next[0]?.reading)
const label = computed(() => view.value && !view.value.standing.label)
const taken = computed<Taken>(() => {
  if (chosen.value) return chosen.value
  if (label.value && !view.value?.readings.length) return 'label'
  return asked.value ?? (view.value?.standing.charge_first ? 'charged' : 'rest')
})
const READ: { [taken in Taken]: string } = {
  label: SAY.battery.label,
  rest: SAY.battery.atRest,
  'own-loads': SAY.battery.ownLoads,
  tester: SAY.battery.loadTester,
  cranking: SAY.battery.cranking,
  recovery: SAY.battery.aMinuteAfter,
  acid: SAY.battery.acid,
  charged: SAY.battery.charged,
  drain: SAY.battery.drain,
}
const others = computed<Taken[]>(() => {
  const v = view.value
  const all = Object.keys(READ) as Taken[]
  return all.filter((t) => {
    if (t === 'own-loads') return !!v?.own_load
    if (t === 'cranking') return !!v?.crank
    return true
  })
})
const isReading = (t: Taken): t is BatteryReading => t in BATTERY_READINGS
const heading = computed(() => {
  if (isReading(taken.value)) return BATTERY_READINGS[taken.value]
  if (taken.value === 'label') return SAY.battery.readTheLabel
  return taken.value === 'charged' ? SAY.battery.chargeIt : SAY.battery.readTheDrain
})
const caution = computed(() => {
  if (isReading(taken.value)) return BATTERY_CAUTIONS[taken.value]
  if (taken.value === 'charged') return SAY.battery.chargeCaution
  return taken.value === 'drain' ? SAY.battery.drainCaution : ''
})
const record = (test: BatteryTest) => battery.record(test)

function done() {
  chosen.value = undefined
}

useShortcuts((key) => {
  const place = Number(key) - 1
  const other = others.value[place]
  if (key === '?') keysShown.value = true
  else if (key === 'u' && view.value?.readings.length) {
    const last = view.value.readings.at(-1)
    if (last && view.value.open) void battery.takeBack(last.entry)
  } else if (other && view.value?.open) chosen.value = other
  else return false
  return true
})
</script>

<template>
  <JobPage
    v-model:keys-shown="keysShown"
    v-bind="{ id, job, trouble }"
    :about="SAY.job.battery"
    :ready="Boolean(view)"
    :working="SAY.battery.working"
    :keys="[
      ['1 - 9', 'what to enter'],
      ['Enter', 'record it'],
      ['u', 'undo the last one'],
      ['?', 'this list'],
    ]"
  >
    <template v-if="job && view">
      <UnsentNotice :outbox="recorder" :points="job.test_points" />
      <div class="two">
        <div class="read-it">
          <section v-if="view.open" class="card no-print" :aria-label="heading">
            <h2>{{ heading }}</h2>
            <p v-if="caution" class="caution">{{ caution }}</p>
            <BatteryForm
              :taken="taken"
              :view="view"
              :controls="job.controls"
              :degrees="degrees"
              :busy="busy"
              :record="record"
              :record-cranking="battery.recordCranking"
              @degrees="battery.setDegrees"
              @done="done"
            />
            <p v-if="refused" class="trouble" role="alert">{{ refused }}</p>
          </section>
          <nav v-if="view.open" class="no-print others" :aria-label="SAY.battery.somethingElse">
            <v-btn
              v-for="(t, i) in others"
              :key="t"
              height="48"
              :class="{ strong: t === taken }"
              :aria-pressed="t === taken"
              @click="chosen = t"
              ><kbd>{{ i + 1 }}</kbd
              >&nbsp;{{ READ[t] }}</v-btn
            >
          </nav>
          <ReadingLog
            :readings="view.readings"
            :open="view.open"
            :gone="SAY.battery.notThisOne"
            :empty="SAY.battery.nothingRead"
            :file="`/api/v1/jobs/${id}/battery.csv`"
            :file-name="SAY.battery.asCsv"
            @back="battery.takeBack"
          />
        </div>
        <BatteryVerdict :view="view" :degrees="degrees" />
      </div>
      <p class="quiet">{{ SAY.battery.adds }}</p>
    </template>
  </JobPage>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
  gap: 32px;
  align-items: start;
}
.read-it,
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
.caution {
  padding-left: 12px;
  border-left: 8px solid var(--ochre);
  font-size: 17px;
}
.others {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
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
