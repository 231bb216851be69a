<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Control, OpenWiringView, TestView, WiringView } from '../../../api/client'
import { percent } from '../../../words/numbers'
import { INSTRUMENT, conditionWords } from '../../../words/tests'
import { lower } from '../../../words/units'
import { SAY } from '../../../words/say'

/** How the machine may be wired, where nobody knows: what the readings say of it, and what would tell. */
const props = defineProps<{
  wiring: WiringView
  controls: Control[]
  busy: boolean
  closed: boolean
}>()
const emit = defineEmits<{
  settle: [open: OpenWiringView, choice: string | null]
  test: [test: TestView]
}>()

const unfolded = ref(window.matchMedia('(min-width: 1001px)').matches)
const test = computed(() => {
  const { wiring } = props
  if (!wiring.test) return undefined
  const { action, condition, engine } = wiring.test
  const where = conditionWords(props.controls, condition, engine)
  if (action.kind === 'measure') {
    const points = `${lower(action.red.name)} to ${lower(action.black.name)}`
    return `${INSTRUMENT[action.instrument]}, ${points}. Set ${where}.`
  }
  return action.kind === 'look' ? `Look: ${lower(action.name)}.` : `Try it: ${where}.`
})
const ways = (open: OpenWiringView) => [...open.ways].sort((a, b) => b.probability - a.probability)
</script>

<template>
  <section :aria-label="SAY.job.howItsWired">
    <h2>
      <button :aria-expanded="unfolded" @click="unfolded = !unfolded">
        {{ SAY.job.howItsWired }} <span aria-hidden="true">{{ unfolded ? '▾' : '▸' }}</span>
      </button>
    </h2>
    <div v-for="open in unfolded ? wiring.open : []" :key="open.id" class="open">
      <h3>{{ open.about }}</h3>
      <p v-if="open.shown != null" class="shown">{{ SAY.job.yourReadingsShowIt }}</p>
      <ul>
        <li v-for="way in ways(open)" :key="way.choice ?? ''">
          <span
            class="bar"
            :style="{ width: `${Math.max(way.probability * 100, 1)}%` }"
            aria-hidden="true"
          />
          <b class="mono">{{ percent(way.probability) }}</b>
          <span class="says">{{ way.says }}</span>
          <v-btn
            v-if="!closed"
            size="small"
            class="pick"
            :class="{ strong: open.shown != null && open.ways[open.shown] === way }"
            :disabled="busy"
            :aria-label="`${SAY.job.itsThisOne}: ${way.says}`"
            @click="emit('settle', open, way.choice ?? null)"
            >{{ SAY.job.itsThisOne }}</v-btn
          >
        </li>
      </ul>
    </div>
    <p v-if="unfolded && test && wiring.test && !closed" class="tell">
      <b>{{ SAY.job.toFindOut }}</b> {{ test }}
      <v-btn size="small" :disabled="busy" @click="emit('test', wiring.test)">{{
        SAY.job.doThisTest
      }}</v-btn>
    </p>
  </section>
</template>

<style scoped>
h2 {
  margin: 0 0 4px;
  font-size: 16px;
}
h2 button {
  min-height: 44px;
  font-weight: 700;
}
.pick:not(.strong) {
  background: var(--panel);
}
h3 {
  margin: 0 0 4px;
  font-size: 15px;
  font-weight: 600;
}
.open + .open {
  margin-top: 10px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 5px;
}
li {
  position: relative;
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 4px 10px;
  border-radius: 8px;
  background: var(--well);
  overflow: hidden;
}
.bar {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--plum-wash);
}
b,
.says {
  position: relative;
}
b.mono {
  width: 42px;
  flex: none;
}
.says {
  flex: 1;
  line-height: 1.25;
}
.shown {
  margin: 0 0 4px;
  color: var(--moss);
  font-weight: 600;
}
.tell {
  margin: 10px 0 0;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
  line-height: 1.35;
}
</style>
