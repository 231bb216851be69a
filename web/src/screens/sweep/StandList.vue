<script setup lang="ts">
import { computed } from 'vue'
import type { Control, WalkView } from '../../api/client'
import { moves } from '../../words/tests'
import { SAYS } from './signs'
import { lower } from '../../words/units'
import { SAY } from '../../words/say'

const props = defineProps<{ walk: WalkView; controls: Control[]; at: number }>()
const emit = defineEmits<{ go: [stand: number] }>()

const rows = computed(() =>
  props.walk.stands.map((s, i) => {
    const before = props.walk.stands[i - 1]?.condition ?? {}
    const moved = moves(props.controls, before, s.condition)
    const fits = s.found ? s.found.sign === s.shows : undefined
    return {
      moved: moved.join(', ') || (i === 0 ? 'As parked' : 'As it is now'),
      shows: SAYS[s.shows].toLowerCase(),
      found: s.found
        ? SAYS[s.found.sign].toLowerCase() + (s.found.dead_spot ? ', at times' : '')
        : '',
      fits,
      mark: fits == null ? '' : fits ? '✓' : '✕',
      tells: s.tells.map(lower).join('; '),
    }
  }),
)
</script>

<template>
  <section :aria-label="SAY.sweep.steps">
    <table>
      <thead>
        <tr>
          <th scope="col">{{ SAY.sweep.move }}</th>
          <th scope="col">{{ SAY.sweep.goodMachine }}</th>
          <th scope="col">{{ SAY.common.found }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, i) in rows" :key="i" :class="{ now: i === at, bad: row.fits === false }">
          <td>
            <button
              type="button"
              :aria-current="i === at ? 'step' : undefined"
              @click="emit('go', i)"
            >
              <b>{{ i + 1 }}</b> {{ row.moved }}
              <small>{{ row.tells }}</small>
            </button>
          </td>
          <td>{{ row.shows }}</td>
          <td>
            <b v-if="row.mark" :class="row.fits ? 'good' : 'off'">{{ row.mark }}</b> {{ row.found }}
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="walk.not_told.length" class="quiet">
      No step checks: {{ walk.not_told.map(lower).join('; ') }}. The job’s own tests do.
    </p>
  </section>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-size: 15px;
  color: var(--quiet);
}
td:nth-child(n + 2) {
  white-space: nowrap;
}
td {
  padding: 0 8px 0 0;
  border-top: 1px solid var(--rule);
  vertical-align: middle;
}
button {
  width: 100%;
  min-height: 52px;
  padding: 4px 8px;
  text-align: left;
  border-left: 6px solid transparent;
  line-height: 1.25;
}
small {
  display: block;
  font-size: 14px;
  color: var(--quiet);
}
.now button {
  border-left-color: var(--ink);
  background: var(--well);
}
.bad td {
  color: var(--plum);
}
.good {
  color: var(--moss);
}
.off {
  color: var(--plum);
}
</style>
