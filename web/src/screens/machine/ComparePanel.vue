<script setup lang="ts">
import { ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import {
  ApiError,
  api,
  type ComparisonView,
  type ConditionView,
  type MachineDetail,
  type Standing,
  type WireView,
} from '../../api/client'
import { volts } from '../../words/numbers'
import { doesLines } from '../../words/reasons'
import { standsWords } from '../../words/stands'
import { capital, lower } from '../../words/units'
import { standingOf } from './useMachine'
import { SAY } from '../../words/say'

const props = defineProps<{
  detail: MachineDetail
  standing: Standing
  other: ConditionView
  named: ConditionView | undefined
}>()
const emit = defineEmits<{ compared: [wires: string[]] }>()
const route = useRoute()
const router = useRouter()
const compared = ref<ComparisonView>()
const trouble = ref('')

watch(
  () => [props.standing, props.other],
  async () => {
    try {
      compared.value = await api.compare(props.detail.name, standingOf(props.other), props.standing)
      emit(
        'compared',
        compared.value.wires.map((w) => w.id),
      )
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error.message
    }
  },
  { immediate: true },
)

const wire = (wires: WireView[], id: string) => wires.find((w) => w.id === id)
const reads = (w: WireView | undefined) =>
  w ? `${standsWords(w.stands)}${w.volts == null ? '' : `, ${volts(w.volts)} V`}` : ''
const carries = (w: WireView | undefined) => volts(Math.abs(w?.amps ?? 0))

function close() {
  void router.replace({ query: { ...route.query, with: undefined } })
}

/** What the machine does otherwise, said once. */
function outcome(at: ComparisonView): string {
  const before = doesLines(at.before, props.detail)
  const after = doesLines(at.after, props.detail)
  const moved = after.filter((line, i) => line.does !== before[i]?.does)
  return moved.map((l) => l.says).join('. ') || 'It does the same'
}
</script>

<template>
  <section class="compare" :aria-label="SAY.machine.comparison">
    <div class="head">
      <h2>
        From “{{ other.name }}” to {{ named ? `“${named.name}”` : SAY.machine.theConditionSetNow }}
      </h2>
      <v-btn class="no-print" size="small" variant="text" @click="close">{{
        SAY.common.close
      }}</v-btn>
    </div>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <div v-if="compared" class="columns">
      <div>
        <p>
          <b>{{ outcome(compared) }}.</b>
        </p>
        <ul
          v-if="compared.contacts.length || compared.coils.length"
          class="scroll"
          tabindex="0"
          :aria-label="SAY.machine.contactsThatChanged"
        >
          <li v-for="c in compared.contacts" :key="c.id">
            {{ c.name }}: now <b>{{ c.made ? SAY.machine.closed : SAY.common.open }}</b>
          </li>
          <li v-for="c in compared.coils" :key="c">{{ c }}: moved</li>
        </ul>
        <p v-else>{{ SAY.machine.noContactChanged }}</p>
      </div>
      <p v-if="!compared.wires.length">{{ SAY.machine.noWireIsDifferent }}</p>
      <div
        v-else
        class="scroll"
        tabindex="0"
        role="group"
        :aria-label="SAY.machine.wiresThatAreDifferent"
      >
        <table>
          <thead>
            <tr>
              <th>{{ compared.wires.length }} wires</th>
              <th>{{ capital(other.name) }}</th>
              <th class="mono">A</th>
              <th>{{ SAY.machine.now }}</th>
              <th class="mono">A</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="w in compared.wires" :key="w.id">
              <td>
                <b class="mono">{{ w.id }}</b> {{ w.color }}, {{ lower(w.from) }} to
                {{ lower(w.to) }}
              </td>
              <td>{{ reads(wire(compared.before.wires, w.id)) }}</td>
              <td class="mono">{{ carries(wire(compared.before.wires, w.id)) }}</td>
              <td>{{ reads(wire(compared.after.wires, w.id)) }}</td>
              <td class="mono">{{ carries(wire(compared.after.wires, w.id)) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </div>
  </section>
</template>

<style scoped>
.compare {
  padding: 10px 14px;
  background: var(--panel);
  border: 1px solid var(--rule);
  border-radius: 12px;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
h2 {
  margin: 0;
  font-size: 18px;
}
p {
  margin: 4px 0;
  font-size: 17px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 0.7fr) minmax(0, 1.6fr);
  gap: 4px 24px;
}
.scroll {
  max-height: 190px;
  overflow: auto;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 16px;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
table {
  border-collapse: collapse;
  font-size: 16px;
}
th,
td {
  padding: 4px 16px 4px 0;
  text-align: left;
}
tbody tr {
  border-top: 1px solid var(--rule);
}
</style>
