<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import type { ReleaseStep, Saw } from '../../api/client'
import { CAUTIONS } from '../../words/cautions'
import { SAWS } from '../../words/release'
import { SAY } from '../../words/say'
import { capital } from '../../words/units'
import { useStopwatch } from './useStopwatch'

/** One step: what to put how, what to do, what must come of it, and what did. */
const props = defineProps<{
  job: string
  step: ReleaseStep
  place: number
  of: number
  /** The machine stands as the step before left it. */
  followed: boolean
  open: boolean
  busy: boolean
}>()
const emit = defineEmits<{ saw: [saw: Saw, seconds?: number]; undo: [] }>()

const { seconds, running, toggle, stop, reset } = useStopwatch()
const card = ref<HTMLElement>()
watch(
  () => props.place,
  async () => {
    reset()
    await nextTick()
    card.value?.focus()
  },
)

/** Who comes back after a break may find the engine off. */
const startFirst = computed(
  () => props.open && props.place > 0 && !props.followed && props.step.tried.act !== 'crank',
)
const limit = computed(() => props.step.tried.within)
const late = computed(
  () => seconds.value !== undefined && limit.value != null && seconds.value > limit.value,
)
const result = computed(() => props.step.result)
const answered = computed(() => {
  const { saw, seconds: took } = result.value
  if (!saw) return ''
  return capital(SAWS[saw]) + (took == null ? '' : ` after ${took} s`)
})

function answer(saw: Saw) {
  if (!props.open || props.busy) return
  stop()
  emit('saw', saw, seconds.value)
  reset()
}

/** A key of the page; whether it was used. */
function press(key: string): boolean {
  const saw = props.step.answers[Number(key) - 1]
  if (saw) answer(saw)
  else if (key === 'w' && limit.value != null && props.open) toggle()
  else if (key === 'u' && result.value.entry) emit('undo')
  else return false
  return true
}
defineExpose({ press })
</script>

<template>
  <section
    ref="card"
    class="card"
    tabindex="-1"
    :aria-label="`${SAY.release.step} ${place + 1} of ${of}`"
  >
    <h2>{{ SAY.release.step }} {{ place + 1 }} of {{ of }}</h2>
    <div v-if="result.saw" class="result" :class="result.stands">
      <p>
        <b>{{ answered }}</b>
      </p>
      <p v-if="result.stands === 'bad'">{{ SAY.release.failedHelp }}</p>
      <div class="row">
        <v-btn v-if="result.stands === 'bad'" class="strong" height="48" :to="`/jobs/${job}`">{{
          SAY.release.toFind
        }}</v-btn>
        <v-btn v-if="open && result.entry" height="48" @click="emit('undo')"
          ><kbd>u</kbd>&nbsp;{{ SAY.release.undoStep }}</v-btn
        >
      </div>
    </div>
    <p v-if="result.why" class="why">{{ result.why }}</p>
    <p v-for="c in step.cautions" :key="c" class="caution">{{ CAUTIONS[c] }}</p>
    <p v-if="step.takes_two" class="caution">{{ SAY.release.twoPeople }}</p>
    <p v-if="startFirst" class="why">{{ SAY.release.startFirst }}</p>
    <ol v-if="step.first.length" class="first">
      <li v-for="line in step.first" :key="line">{{ line }}</li>
    </ol>
    <p v-else-if="place && followed" class="quiet">{{ SAY.release.allSet }}</p>
    <h3>{{ SAY.release.everything }}</h3>
    <ul class="stand">
      <li v-for="c in step.stand" :key="c.control" :class="{ moved: c.moved }">
        {{ capital(c.says) }}
      </li>
    </ul>
    <p class="do">{{ step.does }}</p>
    <p class="must">{{ step.must }}</p>
    <template v-if="open">
      <div v-if="limit != null" class="watch">
        <v-btn height="56" @click="toggle"
          ><kbd>w</kbd>&nbsp;{{ running ? SAY.release.stopClock : SAY.release.startClock }}</v-btn
        >
        <span class="mono seconds" :class="{ late }" role="timer"
          >{{ (seconds ?? 0).toFixed(1) }} s</span
        >
        <span class="quiet">{{ limit }} s at most</span>
      </div>
      <h3>{{ SAY.release.whatHappened }}</h3>
      <div class="answers" role="group" :aria-label="SAY.release.whatHappened">
        <v-btn
          v-for="(saw, i) in step.answers"
          :key="saw"
          height="64"
          :class="{ right: i === 0 }"
          :disabled="busy"
          @click="answer(saw)"
          ><kbd>{{ i + 1 }}</kbd
          >&nbsp;{{ capital(SAWS[saw]) }}</v-btn
        >
      </div>
    </template>
  </section>
</template>

<style scoped>
.card {
  display: grid;
  gap: 12px;
}
.card:focus {
  outline: none;
}
p,
h2,
h3 {
  margin: 0;
}
h2 {
  font-size: 18px;
}
h3 {
  font-size: 16px;
}
.first {
  margin: 0;
  padding-left: 24px;
  font-size: 20px;
  line-height: 1.35;
}
.do {
  font-size: 34px;
  font-weight: 700;
  line-height: 1.15;
}
.must {
  font-size: 24px;
  line-height: 1.2;
}
.why {
  padding: 8px 12px;
  border-left: 6px solid var(--ochre);
  font-weight: 600;
}
.watch {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 12px;
}
.seconds {
  font-size: 34px;
  font-weight: 700;
}
.late {
  color: var(--plum);
}
.answers {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(230px, 1fr));
  gap: 10px;
}
.answers :deep(.v-btn) {
  font-size: 19px;
  white-space: normal;
}
.answers .right {
  border: 3px solid var(--moss);
}
.result {
  display: grid;
  gap: 8px;
  padding: 10px 14px;
  border-left: 8px solid var(--moss);
  background: var(--panel);
  font-size: 18px;
}
.result.bad {
  border-color: var(--plum);
}
.result.again {
  border-color: var(--ochre);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
.stand {
  margin: 0;
  padding-left: 24px;
  columns: 2;
  font-size: 17px;
}
.moved {
  font-weight: 700;
}
</style>
