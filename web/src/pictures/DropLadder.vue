<script setup lang="ts">
import { computed } from 'vue'
import type { DropsView } from '../api/client'
import { SPAN_WORDS, partsWords, watts, type Span } from '../words/drops'
import { volts } from '../words/numbers'
import { SAY } from '../words/say'
import { dropRuns } from './dropRuns'

/** The way of the current from post to post, point by point, and beside it what was lost over each piece of it
 * that was read: never at one place what was read over several. */
const props = defineProps<{
  view: DropsView
  /** The points that are to be read across, by their places. */
  marked: (number | undefined)[]
}>()
const emit = defineEmits<{ pick: [point: number] }>()

const runs = computed(() => dropRuns(props.view.walk.spans))
const known = computed(() => new Set(props.view.walk.spans.flatMap((s) => s.stretches)))

/** What the widest bar stands for, in volts. */
const most = computed(() => {
  const lost = props.view.walk.spans.filter((s) => s.word !== 'load')
  return Math.max(0.3, ...lost.map((s) => s.volts), ...lost.map((s) => s.limit))
})
const share = (value: number) => `${Math.min(Math.max(value / most.value, 0), 1) * 100}%`

/** What the same piece lost before it was repaired. */
function before(span: Span): Span | undefined {
  const same = (s: Span) => s.stretches.join() === span.stretches.join()
  return props.view.before.find(same)
}
/** Grid lines: a point and what follows it take a line each. */
const line = (stretch: number) => 2 * stretch + 2
</script>

<template>
  <div class="ladder">
    <template v-for="(point, i) in view.points" :key="point.terminal">
      <v-btn
        class="point"
        :class="{ marked: marked.includes(i) }"
        :style="{ gridRow: 2 * i + 1 }"
        variant="text"
        height="44"
        :aria-pressed="marked.includes(i)"
        @click="emit('pick', i)"
        ><span class="peg" aria-hidden="true"></span>{{ point.name }}</v-btn
      >
      <p
        v-if="i < view.stretches.length"
        class="between quiet"
        :class="{ uses: view.stretches[i]?.uses }"
        :style="{ gridRow: line(i) }"
      >
        {{ partsWords(view, { stretches: [i] }, 'and') }}
      </p>
      <p
        v-if="i < view.stretches.length && !known.has(i) && !view.stretches[i]?.uses"
        class="unread quiet"
        :style="{ gridRow: line(i) }"
      >
        {{ SAY.drops.notRead }}, {{ SAY.drops.upTo }} {{ volts(view.walk.limits[i] ?? 0) }} V
      </p>
    </template>
    <div
      v-for="run in runs"
      :key="`${run.first}`"
      class="lost"
      :class="[run.span.word, { several: run.span.stretches.length > 1 }]"
      :style="{ gridRow: `${line(run.first)} / ${line(run.last) + 1}` }"
    >
      <span class="figures">
        <b class="mono">{{ volts(run.span.volts) }} V</b>
        <span v-if="run.span.word !== 'load'" class="mono">{{ watts(run.span.watts) }}</span>
        <span class="word">{{ SPAN_WORDS[run.span.word] }}</span>
        <span v-if="run.last - run.first + 1 < run.span.stretches.length" class="quiet">{{
          SAY.drops.together
        }}</span>
        <span v-if="before(run.span)" class="quiet"
          >{{ SAY.drops.was }} {{ volts(before(run.span)!.volts) }} V</span
        >
      </span>
      <span v-if="run.span.word !== 'load'" class="bar" aria-hidden="true"
        ><i :style="{ width: share(run.span.volts) }"></i
        ><u :style="{ left: share(run.span.limit) }"></u
      ></span>
      <span v-if="run.span.word !== 'load'" class="quiet small"
        >{{ SAY.drops.goodOne }} {{ SAY.drops.upTo }} {{ volts(run.span.limit) }} V</span
      >
    </div>
  </div>
</template>

<style scoped>
.ladder {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
  column-gap: 12px;
}
.point {
  grid-column: 1;
  justify-content: flex-start;
  padding: 0 6px 0 0;
  font-size: 16px;
  font-weight: 700;
  text-align: left;
  white-space: normal;
  z-index: 1;
}
.point :deep(.v-btn__content) {
  white-space: normal;
  line-height: 1.15;
}
.peg {
  flex: none;
  width: 16px;
  height: 16px;
  margin: 0 10px 0 0;
  border: 4px solid var(--slate);
  background: var(--paper);
}
.marked .peg {
  background: var(--ember);
  border-color: var(--ember);
}
.between {
  grid-column: 1;
  min-height: 56px;
  margin: 0 0 0 7px;
  padding: 4px 0 4px 18px;
  border-left: 3px solid var(--slate);
  font-size: 15px;
  display: flex;
  align-items: center;
}
.between.uses {
  border-left-style: dotted;
  color: var(--ink);
  font-weight: 600;
}
.unread {
  grid-column: 2;
  align-self: center;
  margin: 0;
  padding-left: 14px;
  font-size: 15px;
}
.lost {
  grid-column: 2;
  min-height: 52px;
  margin: 2px 0;
  padding: 4px 0 4px 12px;
  border-left: 6px solid var(--moss);
  display: grid;
  align-content: center;
  gap: 4px;
}
.lost.several {
  background: repeating-linear-gradient(
    -45deg,
    transparent 0 9px,
    color-mix(in srgb, var(--ink) 7%, transparent) 9px 12px
  );
}
.lost.too-much {
  border-color: var(--plum);
}
.lost.unclear {
  border-color: var(--ochre);
}
.lost.load {
  border-color: var(--rule);
}
.figures {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 12px;
}
.figures b {
  font-size: 20px;
}
.too-much .figures .word,
.too-much .figures b {
  color: var(--plum);
  font-weight: 700;
}
.bar {
  position: relative;
  height: 12px;
  background: var(--well);
}
.bar i {
  display: block;
  height: 100%;
  background: var(--slate);
}
.too-much .bar i {
  background: var(--plum);
}
.bar u {
  position: absolute;
  top: -4px;
  width: 3px;
  height: 20px;
  background: var(--ink);
}
.small {
  font-size: 14px;
}
</style>
