<script setup lang="ts">
import { computed } from 'vue'
import type { TraceView } from '../api/client'
import { volts } from '../words/numbers'
import { capital } from '../words/units'
import { SAY } from '../words/say'

/** The track on a phone: its points from the battery on, a line each, with bars. */
const props = defineProps<{ trace: TraceView; chosen: string | undefined }>()
const emit = defineEmits<{ choose: [terminal: string] }>()

const most = computed(() => Math.max(1, ...props.trace.points.map((p) => p.healthy ?? 0)))
const rows = computed(() =>
  props.trace.points
    .filter((p) => p.major || p.found || p.point.terminal === props.chosen)
    .map((p) => ({
      terminal: p.point.terminal,
      name: capital(p.point.name),
      place: p.point.place,
      should: p.expected == null ? '' : `should read ${volts(p.expected)}`,
      read: p.found ? volts(p.found.volts) : '',
      bad: p.found && !p.found.sound,
      bar: Math.max(0, Math.min(1, (p.found?.volts ?? 0) / most.value)) * 100,
      broken: props.trace.lost?.after.terminal === p.point.terminal,
    })),
)
</script>

<template>
  <ol :aria-label="SAY.pictures.pointsAlongTheCircuit">
    <li v-for="r in rows" :key="r.terminal" :class="{ broken: r.broken }">
      <button
        :aria-pressed="r.terminal === chosen"
        :aria-label="`${r.name}, ${r.place}`"
        @click="emit('choose', r.terminal)"
      >
        <span class="name"
          >{{ r.name }}<small>{{ r.place }}</small></span
        >
        <span class="figures"
          ><b v-if="r.read" class="mono" :class="{ bad: r.bad }">{{ r.read }} V</b>
          <small>{{ r.should }}</small></span
        >
        <span v-if="r.read" class="bar" :style="{ width: `${r.bar}%` }" aria-hidden="true" />
      </button>
    </li>
  </ol>
</template>

<style scoped>
ol {
  display: grid;
  gap: 4px;
  margin: 0;
  padding: 0;
  list-style: none;
}
button {
  position: relative;
  display: flex;
  justify-content: space-between;
  gap: 10px;
  width: 100%;
  min-height: 48px;
  padding: 4px 10px 8px;
  border: 1px solid var(--rule);
  border-radius: 8px;
  text-align: left;
}
button[aria-pressed='true'] {
  border: 2px solid var(--slate);
  background: var(--well);
}
.broken button {
  border-top: 4px double var(--plum);
}
small {
  display: block;
  font-size: 13px;
  color: var(--quiet);
}
.figures {
  text-align: right;
  white-space: nowrap;
}
.bad {
  color: var(--plum);
}
.bar {
  position: absolute;
  left: 0;
  bottom: 0;
  height: 4px;
  background: var(--ember);
}
</style>
