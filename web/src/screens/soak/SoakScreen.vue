<script setup lang="ts">
import { computed, ref } from 'vue'
import { useShortcuts } from '../../input/useShortcuts'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import { clock, percent } from '../../words/numbers'
import { goalWords, soakEntry } from '../../words/soak'
import { SAY } from '../../words/say'
import JobPage from '../JobPage.vue'
import SoakBegin from './SoakBegin.vue'
import SoakClock from './SoakClock.vue'
import { useSoak } from './useSoak'

const props = defineProps<{ id: string }>()
const soak = useSoak(props.id)
const { job, view, under, seconds, trouble, refused, outbox } = soak
const keysShown = ref(false)
const card = ref<InstanceType<typeof SoakClock>>()

const standing = computed(() => view.value?.standing ?? undefined)
const log = computed(() => [...(view.value?.log ?? [])].reverse())
const busy = computed(() => outbox.busy.value)

useShortcuts((key) => {
  const last = log.value.find((e) => !e.taken_back)
  if (key === '?') keysShown.value = true
  else if (key === 'u' && last && view.value?.open) void soak.takeBack(last.id)
  else return card.value?.press(key) ?? false
  return true
})
</script>

<template>
  <JobPage
    v-model:keys-shown="keysShown"
    v-bind="{ id, job, trouble }"
    :about="SAY.soak.title"
    :ready="Boolean(view)"
    :working="SAY.battery.working"
    :keys="[
      ['f', 'it happened'],
      ['p', 'stop the clock, or go on'],
      ['1 - 7', 'what brings it on: on or off'],
      ['u', 'undo the last one'],
      ['?', 'this list'],
    ]"
  >
    <template v-if="job && view">
      <p v-if="outbox.waiting.value" class="waiting" role="alert">
        {{ SAY.common.theServerOrItsDatabase }}
      </p>
      <UnsentNotice :outbox="outbox" />
      <div class="two">
        <div v-if="view.open" class="no-print left">
          <p class="caution">{{ SAY.soak.caution }}</p>
          <SoakClock
            v-if="under"
            ref="card"
            :soak="under"
            :seconds="seconds"
            :busy="busy"
            :enter="soak.enter"
          />
          <SoakBegin v-else :view="view" :busy="busy" :enter="soak.enter" />
          <p v-if="refused" class="trouble" role="alert">{{ refused }}</p>
        </div>
        <section class="right" :aria-label="SAY.soak.soFar">
          <template v-if="standing">
            <h2 aria-live="polite">{{ standing.says }}</h2>
            <p v-if="standing.cut" class="note">{{ SAY.soak.cut }}</p>
            <ul v-if="standing.goals.length" class="goals">
              <li v-for="g in standing.goals" :key="g.sure">
                <span>{{ goalWords(g) }}</span>
                <span class="gauge" aria-hidden="true"
                  ><i
                    :style="{
                      width: `${g.minutes ? Math.min(100, (100 * standing.worth) / g.minutes) : 100}%`,
                    }"
                  ></i
                ></span>
              </li>
            </ul>
            <p v-if="standing.goals.length">
              {{ SAY.soak.goneNow }} <b>{{ percent(1 - standing.still_there) }}</b>
            </p>
            <p v-else>{{ SAY.soak.findIt }}</p>
          </template>
          <p v-else class="quiet">{{ SAY.soak.what }}</p>
          <template v-if="log.length">
            <h2>{{ SAY.soak.soFar }}</h2>
            <ol class="log">
              <li v-for="e in log" :key="e.id" :class="{ gone: e.taken_back }">
                <span
                  >{{ soakEntry(e.entry) }}
                  <span class="quiet line"
                    >{{ e.by }}{{ e.at ? `, ${clock(e.at)}` : '' }}</span
                  ></span
                >
                <v-btn
                  v-if="view.open && !e.taken_back"
                  class="no-print"
                  height="44"
                  variant="text"
                  :aria-label="`${SAY.common.undo}: ${soakEntry(e.entry)}`"
                  @click="soak.takeBack(e.id)"
                  >{{ SAY.common.undo }}</v-btn
                >
              </li>
            </ol>
          </template>
        </section>
      </div>
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
.left,
.right {
  display: grid;
  gap: 14px;
}
h2 {
  margin: 0;
  font-size: 22px;
}
p {
  margin: 0;
  font-size: 17px;
}
.caution,
.note {
  padding-left: 12px;
  border-left: 8px solid var(--ochre);
}
.goals,
.log {
  margin: 0;
  padding: 0;
  list-style: none;
}
.goals {
  display: grid;
  gap: 12px;
  font-size: 18px;
}
.gauge {
  display: block;
  height: 14px;
  margin-top: 4px;
  background: var(--well);
}
.gauge i {
  display: block;
  height: 100%;
  background: var(--moss);
}
.log li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  min-height: 52px;
  border-top: 1px solid var(--rule);
  font-size: 17px;
}
.gone {
  color: var(--quiet);
  text-decoration: line-through;
}
.line {
  display: block;
}
.trouble {
  padding: 10px 14px;
  border-left: 8px solid var(--plum);
  background: var(--panel);
  font-weight: 600;
}
.waiting {
  font-weight: 600;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
