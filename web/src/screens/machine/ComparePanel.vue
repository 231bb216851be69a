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
import { doesLines, gateWords } from '../../words/reasons'
import { standsWords } from '../../words/stands'
import { capital } from '../../words/units'
import { standingOf } from './useMachine'

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
      emit('compared', compared.value.wires)
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
  <section class="compare" aria-label="Comparison">
    <div class="head">
      <h2>From “{{ other.name }}” to {{ named ? `“${named.name}”` : 'the condition set now' }}</h2>
      <v-btn class="no-print" size="small" variant="text" @click="close">Close</v-btn>
    </div>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <template v-if="compared">
      <p>
        <b>{{ outcome(compared) }}.</b>
        <span v-if="compared.contacts.length">
          Contacts moved:
          <template v-for="(c, i) in compared.contacts" :key="c.id"
            >{{ i ? ', ' : '' }}{{ c.name.toLowerCase() }} ({{ gateWords(c) }}) now
            {{ c.made ? 'made' : 'open' }}</template
          >.</span
        >
        <span v-if="compared.coils.length"> Coils moved: {{ compared.coils.join(', ') }}.</span>
      </p>
      <p v-if="!compared.wires.length">No wire stands otherwise.</p>
      <div v-else class="scroll" tabindex="0" role="group" aria-label="Wires that stand otherwise">
        <table>
          <thead>
            <tr>
              <th>Wire</th>
              <th>{{ capital(other.name) }}</th>
              <th class="mono">A</th>
              <th>Now</th>
              <th class="mono">A</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="id in compared.wires" :key="id">
              <th class="mono">{{ id }}</th>
              <td>{{ reads(wire(compared.before.wires, id)) }}</td>
              <td class="mono">{{ carries(wire(compared.before.wires, id)) }}</td>
              <td>{{ reads(wire(compared.after.wires, id)) }}</td>
              <td class="mono">{{ carries(wire(compared.after.wires, id)) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
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
.scroll {
  max-height: 260px;
  overflow: auto;
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
