<script setup lang="ts">
import { computed, ref } from 'vue'
import { useShortcuts } from '../../input/useShortcuts'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import { SAY } from '../../words/say'
import JobPage from '../JobPage.vue'
import MachineNotices from '../MachineNotices.vue'
import PutBackBar from '../job/PutBackBar.vue'
import FinishPanel from './FinishPanel.vue'
import ReleaseRecord from './ReleaseRecord.vue'
import ReleaseStep from './ReleaseStep.vue'
import StepStrip from './StepStrip.vue'
import { useRelease } from './useRelease'

const props = defineProps<{ id: string }>()
const release = useRelease(props.id)
const { job, view, at, followed, end, step, open, trouble, refused, said, outbox, person, whole } =
  release
const card = ref<InstanceType<typeof ReleaseStep>>()
const keysShown = ref(false)

const summary = computed(() => {
  const v = view.value
  if (!v) return ''
  const steps = v.steps.length === 1 ? '1 step shows' : `${v.steps.length} steps show`
  const fewest = v.smallest ? 'No fewer would do.' : `At least ${v.at_least} are needed.`
  const times = (n: number) => (n === 1 ? 'once' : n === 2 ? 'twice' : `${n} times`)
  const runs = `The engine is started ${times(v.starts)}`
  const turns = v.blades ? `, the blades turn ${times(v.blades)}` : ''
  return `${steps} every one of ${v.exposed} faults that would leave somebody unprotected or the machine dead. ${fewest} ${runs}${turns}.`
})

useShortcuts((key) => {
  if (key === '?') keysShown.value = true
  else if (key === '[' || key === ']') release.go(at.value + (key === ']' ? 1 : -1))
  else return card.value?.press(key) ?? false
  return true
})
</script>

<template>
  <JobPage
    v-model:keys-shown="keysShown"
    v-bind="{ id, job, trouble }"
    :about="SAY.release.title"
    :ready="Boolean(view)"
    :working="SAY.release.working"
    :keys="[
      ['1 - 5', 'what happened'],
      ['w', 'start or stop the clock'],
      ['u', 'undo this step'],
      ['[ ]', 'the step before, the next'],
      ['?', 'this list'],
    ]"
  >
    <template v-if="job && view">
      <p class="seen-by-readers-only" aria-live="polite">{{ said }}</p>
      <MachineNotices :of="job" :machine="job.machine" />
      <template v-if="view.steps.length && open">
        <p v-if="!at || at === end" class="quiet no-print">{{ summary }}</p>
        <StepStrip
          :steps="view.steps"
          :at="at"
          :left="view.blockers.length"
          @go="release.go($event)"
        />
      </template>
      <p v-else-if="open" class="trouble">{{ SAY.release.noDuties }}</p>
      <p v-for="b in view.broken" :key="b" class="trouble no-print">
        As it came in it fails “{{ b }}”. Fix that first.
      </p>
      <p v-if="outbox.waiting.value" class="waiting" role="alert">
        {{ SAY.common.theServerOrItsDatabase }}
      </p>
      <UnsentNotice :outbox="outbox" />
      <UnsentNotice :outbox="release.recorder" :points="job.test_points" />
      <PutBackBar
        v-if="open"
        :off="job.still_off"
        :jumper-on="job.jumper_on"
        :busy="release.recorder.busy.value"
        @back="release.putBack"
        @jumper-off="release.cablesOff"
      />
      <p v-if="refused" class="trouble" role="alert">{{ refused }}</p>
      <div :class="{ two: open }">
        <div v-if="open" class="no-print">
          <ReleaseStep
            v-if="step"
            ref="card"
            :job="id"
            :step="step"
            :place="at"
            :of="end"
            :followed="followed"
            :open="open"
            :busy="outbox.busy.value || !whole"
            @saw="release.answer"
            @undo="release.takeBack"
          />
          <FinishPanel
            v-else
            v-bind="{ view, person }"
            :job="job.id"
            :busy="outbox.busy.value"
            :enter="release.enter"
            @go="release.go($event)"
            @undo="release.undo"
          />
        </div>
        <ReleaseRecord :job="job" :view="view" />
      </div>
    </template>
  </JobPage>
</template>

<style scoped>
p {
  margin: 0;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr);
  gap: 32px;
  align-items: start;
}
.trouble {
  padding: 10px 14px;
  border-left: 8px solid var(--plum);
  background: var(--panel);
  font-weight: 600;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media print {
  .two {
    display: block;
  }
}
</style>
