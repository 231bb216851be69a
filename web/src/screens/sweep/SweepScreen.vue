<script setup lang="ts">
import { useShortcuts } from '../../input/useShortcuts'
import KillLadder from '../../pictures/KillLadder.vue'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import { CAUTIONS } from '../../words/cautions'
import { DIAL, setUpWords } from '../../words/tests'
import { capital, lower } from '../../words/units'
import PutBackBar from '../job/PutBackBar.vue'
import TopBar from '../TopBar.vue'
import StandList from './StandList.vue'
import { SAYS, answersOf } from './signs'
import { useSweep } from './useSweep'
import { SAY } from '../../words/say'

const props = defineProps<{ id: string }>()

const {
  job,
  sweeps,
  circuit,
  at,
  trouble,
  refused,
  said,
  recorder,
  walk,
  stands,
  stand,
  toMove,
  wrong,
  suspected,
  ladder,
  done,
  open,
  record,
  putBack,
  cablesOff,
} = useSweep(props.id)

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
      <v-btn variant="text" :to="`/jobs/${id}`">{{ SAY.common.backToTheJob }}</v-btn>
    </template>
  </TopBar>
  <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
  <p class="seen-by-readers-only" aria-live="polite">{{ said }}</p>
  <main v-if="job && sweeps">
    <div v-if="sweeps.length > 1" role="group" :aria-label="SAY.sweep.killCircuits" class="row">
      <v-btn
        v-for="s in sweeps"
        :key="s.circuit"
        :aria-pressed="circuit === s.circuit"
        @click="((circuit = s.circuit), (at = 0))"
        >{{ capital(s.name) }}</v-btn
      >
    </div>
    <p v-if="!sweeps.length" class="empty">
      {{ SAY.sweep.thisMachineHasNoKill }}
    </p>
    <p v-else-if="!walk" class="empty">
      {{ SAY.sweep.noPlugTakesTheModule }}
    </p>
    <PutBackBar
      v-else-if="job.jumper_on"
      :off="[]"
      jumper-on
      :busy="recorder.busy.value"
      @jumper-off="cablesOff"
    />
    <div v-else class="two">
      <section class="now" :aria-label="SAY.sweep.step">
        <p class="set-up">
          {{ setUpWords(walk.set_up) }} {{ DIAL[walk.instrument] }} <b>{{ SAY.common.red }}</b>
          {{ walk.red.name }} ({{ walk.red.place }}), <b>{{ SAY.sweep.black }}</b>
          {{ walk.black.name }}. Leave both there. From here you only move controls.
        </p>
        <p v-for="c in walk.cautions" :key="c" class="caution">{{ CAUTIONS[c] }}</p>
        <template v-if="stand">
          <p class="count">Step {{ at + 1 }} of {{ stands.length }}</p>
          <p class="do">
            <template v-if="toMove.length">{{ toMove.join(', ') }}</template><template
              v-else-if="at === 0"
              >{{ SAY.sweep.allControlsAsParked }}</template
            ><template v-else>{{ SAY.sweep.asItIsNow }}</template>
          </p>
          <p class="expect">
            {{ SAY.sweep.goodMachineShows }} <b>{{ SAYS[stand.shows].toLowerCase() }}</b>
          </p>
          <div class="answers" role="group" :aria-label="SAY.common.whatItDoes">
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
              >{{ SAY.sweep.deadSpotCutsOutAs }}</v-btn
            >
            <v-btn :disabled="at === 0" @click="at -= 1">{{ SAY.sweep.backAStep }}</v-btn>
          </div>
          <p class="tells quiet">
            <template v-if="stand.tells.length"
              >Checks: {{ stand.tells.map(lower).join('; ') }}.</template
            >
          </p>
        </template>
        <p v-if="recorder.waiting.value" class="waiting" role="alert">
          {{ SAY.sweep.theServerOrItsDatabase }}
        </p>
        <UnsentNotice :outbox="recorder" :points="job.test_points" />
        <p v-if="refused" class="trouble" role="alert">{{ refused }}</p>
        <PutBackBar
          v-if="done === stands.length && open"
          :off="job.still_off"
          :busy="recorder.busy.value"
          @back="putBack"
        />
        <p v-if="done === stands.length" class="end" role="status">
          <b>{{
            wrong
              ? `${wrong} of ${done} steps are not as they should be.`
              : SAY.sweep.everyStepIsAsIt
          }}</b>
          <template v-if="suspected.length"
            >Check: {{ suspected.map(lower).join('; ') }}.
          </template>
          <v-btn :to="`/jobs/${id}`">{{ SAY.sweep.whatItMeansOnThe }}</v-btn>
        </p>
      </section>
      <div class="now">
        <KillLadder v-if="ladder" :ladder="ladder" />
        <StandList :walk="walk" :controls="job.controls" :at="at" @go="at = $event" />
      </div>
    </div>
  </main>
  <p v-else-if="!trouble" class="loading quiet" role="status">{{ SAY.sweep.workingOutTheSteps }}</p>
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
