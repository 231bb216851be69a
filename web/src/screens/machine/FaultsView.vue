<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import {
  ApiError,
  api,
  exportAddress,
  type FaultRowView,
  type FaultSheetView,
  type MachineDetail,
} from '../../api/client'
import { EFFECT } from '../../words/codes'
import { MODES, capital } from '../../words/units'
import WorkingBar from '../WorkingBar.vue'
import { SAY } from '../../words/say'

const props = defineProps<{ detail: MachineDetail }>()
const sheet = ref<FaultSheetView>()
const trouble = ref('')
const wanted = ref('')
const verdict = ref<FaultRowView['verdict']>('silent')
/** More rows than this are shown only when asked for. */
const PAGE = 80
const most = ref(PAGE)

const stop = new AbortController()
const stopped = ref(false)
onMounted(async () => {
  try {
    sheet.value = await api.faults(props.detail.name, stop.signal)
  } catch (error) {
    if (stop.signal.aborted) return
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
  }
})
onBeforeUnmount(() => stop.abort())

function giveUp() {
  stop.abort()
  stopped.value = true
}

const VERDICTS: { id: FaultRowView['verdict']; title: string; says: string }[] = [
  {
    id: 'silent',
    title: 'Hidden',
    says: 'Nothing differs in ordinary use, and yet an interlock does not do its duty. Only a check of the interlocks finds these.',
  },
  {
    id: 'shows',
    title: 'You’d notice',
    says: 'Something differs in ordinary use: the operator notices.',
  },
  {
    id: 'harmless',
    title: 'No effect',
    says: 'Nothing differs in ordinary use, and every duty is done.',
  },
]
const shown = computed(() => VERDICTS.find((v) => v.id === verdict.value)!)
const count = (id: FaultRowView['verdict']) =>
  sheet.value?.rows.filter((r) => r.verdict === id).length ?? 0

const rows = computed(() => {
  const words = wanted.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (sheet.value?.rows ?? []).filter((row) => {
    if (row.verdict !== verdict.value) return false
    const text = `${MODES[row.mode]} ${effects(row).join(' ')} ${JSON.stringify(row)}`.toLowerCase()
    return words.every((w) => text.includes(w))
  })
})

/** Effects by what they are, with when they show: "does not crank: key to start". */
function effects(row: FaultRowView): string[] {
  const when = new Map<string, string[]>()
  for (const s of row.shows) {
    for (const e of s.effects) when.set(EFFECT[e], [...(when.get(EFFECT[e]) ?? []), s.when])
  }
  return [...when].map(([effect, at]) => `${effect} (${at.join(', ')})`)
}

function choose(id: FaultRowView['verdict']) {
  verdict.value = id
  most.value = PAGE
}
</script>

<template>
  <section class="faults" :aria-label="SAY.machine.faultSheet">
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <p v-else-if="stopped" role="status">{{ SAY.machine.stoppedReloadThisPageTo }}</p>
    <WorkingBar
      v-else-if="!sheet"
      :path="`/api/v1/machines/${encodeURIComponent(detail.name)}/faults`"
      says="Trying every single fault of this machine. The first time takes a while."
      @stop="giveUp"
    />
    <template v-else>
      <div class="head">
        <div class="verdicts no-print" role="group" :aria-label="SAY.machine.howAFaultIsFound">
          <button
            v-for="v in VERDICTS"
            :key="v.id"
            type="button"
            :aria-pressed="verdict === v.id"
            @click="choose(v.id)"
          >
            {{ v.title }} <b class="mono">{{ count(v.id) }}</b>
          </button>
        </div>
        <v-text-field
          v-model="wanted"
          class="search no-print"
          type="search"
          :label="SAY.machine.searchSeatWeldedWhiteWire"
          density="comfortable"
        />
        <a class="no-print" :href="exportAddress(detail.name, 'faults.csv')" download>{{
          SAY.machine.sheetAsCsv
        }}</a>
      </div>
      <p class="says">{{ shown.says }}</p>
      <p v-if="!rows.length" class="quiet">
        {{ wanted ? SAY.machine.noFaultMatches : SAY.machine.noneOfThisKind }}
      </p>
      <div v-else class="scroll" tabindex="0" role="group" :aria-label="SAY.machine.faults">
        <table>
          <thead>
            <tr>
              <th>{{ SAY.machine.whatFails }}</th>
              <th>{{ SAY.machine.how }}</th>
              <th v-if="verdict !== 'harmless'">
                {{
                  verdict === 'silent'
                    ? SAY.machine.safetyCheckThatFails
                    : SAY.machine.whatIsNoticed
                }}
              </th>
              <th v-if="verdict === 'shows'">{{ SAY.machine.safetyCheckThatFails }}</th>
              <th>{{ SAY.machine.inNotation }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows.slice(0, most)" :key="row.faults.join()">
              <th>{{ capital(row.thing) }}</th>
              <td>{{ MODES[row.mode] }}</td>
              <td v-if="verdict === 'shows'">
                <div v-for="e in effects(row)" :key="e">{{ e }}</div>
              </td>
              <td v-if="verdict !== 'harmless'">
                <div v-for="d in row.breaks" :key="d">{{ d }}</div>
              </td>
              <td class="mono notation">
                {{ row.faults[0]
                }}<small v-if="row.faults.length > 1"
                  >to {{ row.faults.at(-1)!.split('=')[1] }}</small
                >
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <v-btn v-if="rows.length > most" variant="text" @click="most += 400"
        >Show {{ rows.length - most }} more</v-btn
      >
    </template>
  </section>
</template>

<style scoped>
.faults {
  padding: 0 20px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  align-items: center;
}
.verdicts {
  display: flex;
  border: 2px solid var(--ink);
  border-radius: 10px;
  overflow: hidden;
}
button {
  min-height: 44px;
  padding: 0 14px;
  font-size: 17px;
}
button + button {
  border-left: 1px solid var(--rule);
}
button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
button:focus-visible {
  outline-offset: -4px;
}
.search {
  flex: 1 1 220px;
}
.head a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--slate);
}
.says {
  margin: 10px 0 6px;
  font-size: 18px;
}
.scroll {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 16px;
}
th,
td {
  padding: 6px 14px 6px 0;
  text-align: left;
  vertical-align: top;
}
tbody tr {
  border-top: 1px solid var(--rule);
}
.notation {
  font-size: 14px;
  color: var(--quiet);
}
small {
  display: block;
  font-size: 14px;
}
</style>
