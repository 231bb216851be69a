<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import {
  ApiError,
  api,
  exportAddress,
  type EndView,
  type HarnessView,
  type MachineDetail,
} from '../../api/client'
import { PART_KIND } from '../../words/codes'
import { milliohms } from '../../words/numbers'
import { capital } from '../../words/units'
import { SAY } from '../../words/say'

const props = defineProps<{ detail: MachineDetail }>()
const harness = ref<HarnessView>()
const trouble = ref('')
const wanted = ref('')

onMounted(async () => {
  try {
    harness.value = await api.harness(props.detail.name)
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
  }
})

const words = computed(() => wanted.value.toLowerCase().split(/\s+/).filter(Boolean))
/** Every word of the search stands somewhere in the row. */
const says = (row: unknown) => {
  const text = JSON.stringify(row).toLowerCase()
  return words.value.every((w) => text.includes(w))
}
const wires = computed(() => harness.value?.wires.filter(says) ?? [])
const parts = computed(() => harness.value?.parts.filter(says) ?? [])

function terminal(e: EndView): string {
  const plug = e.plug ? ` (${e.plug} ${e.cavity})` : ''
  return `${e.port.terminal}${plug}`
}
</script>

<template>
  <section class="parts" :aria-label="SAY.machine.partsAndWires">
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <div class="head no-print">
      <v-text-field
        v-model="wanted"
        class="search"
        type="search"
        :label="SAY.machine.searchRedBrakeBTraced"
        density="comfortable"
      />
      <a :href="exportAddress(detail.name, 'wires.csv')" download>{{ SAY.machine.wiresAsCsv }}</a>
      <a :href="exportAddress(detail.name, 'document.json')" download>{{
        SAY.machine.theWholeMachineAsJson
      }}</a>
    </div>
    <h2>Wires, {{ wires.length }}</h2>
    <div class="scroll" tabindex="0" role="group" :aria-label="SAY.common.wires">
      <table>
        <thead>
          <tr>
            <th>{{ SAY.machine.wire }}</th>
            <th>{{ SAY.machine.color }}</th>
            <th>{{ SAY.machine.awg }}</th>
            <th>{{ SAY.machine.from }}</th>
            <th>{{ SAY.machine.terminal }}</th>
            <th>{{ SAY.machine.to }}</th>
            <th>{{ SAY.machine.terminal }}</th>
            <th>{{ SAY.machine.whenGood }}</th>
            <th>{{ SAY.machine.bundle }}</th>
            <th>{{ SAY.machine.knownFrom }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in wires" :key="w.id">
            <th class="mono">{{ w.id }}</th>
            <td>{{ w.color }}</td>
            <td class="mono">{{ w.gauge }}</td>
            <td>{{ capital(w.from.part_name) }}</td>
            <td>{{ terminal(w.from) }}</td>
            <td>{{ capital(w.to.part_name) }}</td>
            <td>{{ terminal(w.to) }}</td>
            <td class="mono">{{ milliohms(w.ohms) }}</td>
            <td>{{ w.bundle }}</td>
            <td>{{ w.source }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <h2>Parts, {{ parts.length }}</h2>
    <div class="scroll" tabindex="0" role="group" :aria-label="SAY.machine.parts">
      <table>
        <thead>
          <tr>
            <th>{{ SAY.common.part }}</th>
            <th>{{ SAY.common.kind }}</th>
            <th>{{ SAY.machine.where }}</th>
            <th>{{ SAY.machine.contacts }}</th>
            <th>{{ SAY.machine.terminalsAndTheirWires }}</th>
            <th>{{ SAY.machine.knownFrom }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in parts" :key="p.id">
            <th>{{ capital(p.name) }}</th>
            <td>{{ PART_KIND[p.kind] }}</td>
            <td>
              {{ p.place }}<small v-if="p.cover">{{ p.cover }}</small>
            </td>
            <td>
              <div v-for="c in p.contacts" :key="c.name">
                {{ c.name }}, {{ c.between.join(' to ') }}<small>{{ c.made }}</small>
              </div>
              <small v-if="p.linkage">by the {{ p.linkage }}</small>
            </td>
            <td>
              <span v-for="t in p.ports" :key="t.terminal" class="terminal"
                ><b class="mono">{{ t.terminal }}</b> {{ t.wires.join(' ') }}</span
              >
            </td>
            <td>{{ p.source }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.parts {
  padding: 0 20px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: center;
}
.head a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--slate);
}
.search {
  flex: 1 1 260px;
}
h2 {
  margin: 14px 0 6px;
  font-size: 20px;
}
.scroll {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 16px;
}
td.mono {
  white-space: nowrap;
}
th,
td {
  padding: 6px 12px 6px 0;
  text-align: left;
  vertical-align: top;
}
tbody tr {
  border-top: 1px solid var(--rule);
}
small {
  display: block;
  font-size: 14px;
  color: var(--quiet);
}
.terminal {
  display: inline-block;
  margin-right: 12px;
}
</style>
