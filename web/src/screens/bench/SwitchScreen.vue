<script setup lang="ts">
import { computed, onMounted, ref, watch, type Component } from 'vue'
import { ApiError, api, type BenchView } from '../../api/client'
import { useShortcuts } from '../../input/useShortcuts'
import { KIND } from '../../words/bench'
import { clock, day, ohms } from '../../words/numbers'
import { BENCH_KEYS } from '../../words/keys'
import BarTools from '../BarTools.vue'
import ShortcutSheet from '../ShortcutSheet.vue'
import TopBar from '../TopBar.vue'
import MeterPanel from '../meter/MeterPanel.vue'
import { useMeter } from '../meter/useMeter'
import { usePerson } from '../usePerson'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import LinkageView from './found/LinkageView.vue'
import LogView from './found/LogView.vue'
import StrokeView from './found/StrokeView.vue'
import TableView from './found/TableView.vue'
import VerdictStrip from './verdict/VerdictStrip.vue'
import WhichView from './verdict/WhichView.vue'
import WiresView from './verdict/WiresView.vue'
import { useSwitch } from './useSwitch'
import { SAY } from '../../words/say'

const props = defineProps<{ id: string; tab?: string }>()

const { person } = usePerson()
const bench = useSwitch(props.id, person)
const { view, trouble, refused, said, waiting, outbox } = bench
const sheet = ref(false)

/** What a view lets the keys and the meter do. */
interface Hands {
  take?(typed: string): void
  step?(by: 1 | -1): void
  begin?(text: string): void
}
const hands = ref<Hands | null>(null)

const views = computed(() => {
  const kind = view.value?.subject.kind
  const all = [
    { id: 'table', name: 'Table' },
    { id: 'which', name: 'Which is which' },
  ]
  if (kind === 'interlock-switch') all.push({ id: 'machine', name: 'On the machine' })
  if (kind === 'interlock-switch' || kind === 'pto-switch') {
    all.push({ id: 'stroke', name: 'Slow stroke' })
  }
  return [...all, { id: 'wires', name: 'Wires' }, { id: 'log', name: 'Log' }]
})
const VIEWS: { [view: string]: Component } = {
  table: TableView,
  which: WhichView,
  machine: LinkageView,
  stroke: StrokeView,
  wires: WiresView,
  log: LogView,
}
const shown = computed(() => views.value.find((v) => v.id === props.tab)?.id ?? 'table')
/** What it is, where its own name does not say so. */
const kindName = computed(() => {
  const now = view.value
  if (!now) return ''
  const kind = now.subject.profile?.name ?? `${KIND[now.subject.kind]}, type not known`
  return kind === now.name ? '' : kind
})
const open = computed(() => view.value?.status === 'open')

const measures = computed(() => ['table', 'machine', 'stroke', 'wires'].includes(shown.value))
const instrument = computed(() => (open.value && measures.value ? ('buzzer' as const) : undefined))
const meter = useMeter(person, instrument, (typed) => hands.value?.take?.(typed))
const { address, meters, on, live, lost } = meter
const metered = ref(false)
const bringable = computed(() => shown.value === 'table' && !!view.value?.next.stand_in)

/** Moves a stand-in's switch and probes to where they are wanted. */
async function bring() {
  const there = view.value?.next.stand_in
  if (!there) return
  try {
    await api.moveStandIn({ address: address.value, engine: 'stopped', ...there })
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    refused.value = error.message
  }
}

function wrong(now: BenchView): string {
  const count = now.findings.length
  return `${count} ${count === 1 ? 'thing' : 'things'} wrong.`
}
watch(view, (now, before) => {
  if (!now || !before) return
  if (now.next.kind === 'finished' && before.next.kind !== 'finished') {
    said.value = `Nothing more to test. ${wrong(now)}`
  } else if (now.entries > before.entries) {
    said.value = `Recorded. ${now.findings.length ? wrong(now) : ''}`
  }
})
watch(
  () => view.value?.name,
  (name) => {
    if (name) document.title = `${name} · Kelvok`
  },
)

onMounted(async () => {
  await bench.load()
  await bench.resume()
})

useShortcuts((key) => {
  if (key === '?') {
    sheet.value = !sheet.value
    return true
  }
  if (key === 'Escape' && sheet.value) {
    sheet.value = false
    return true
  }
  if (!open.value) return false
  if (/^[0-9.]$/.test(key) && hands.value?.begin) {
    hands.value.begin(key)
    return true
  }
  switch (key) {
    case 'z':
    case 'n':
    case 'o': {
      if (!hands.value?.take) return false
      hands.value.take({ z: 'buzz', n: 'silent', o: 'OL' }[key])
      return true
    }
    case '[':
    case ']':
      hands.value?.step?.(key === ']' ? 1 : -1)
      return !!hands.value?.step
    case 'u':
      void bench.takeBack()
      return true
    default:
      return false
  }
})
</script>

<template>
  <TopBar>
    <template v-if="view"
      ><h1>{{ view.name }}</h1>
      <span class="quiet">{{ kindName }}{{ view.new_part ? ' · new part' : '' }}</span></template
    >
    <template #right>
      <BarTools @keys="sheet = !sheet" />
    </template>
  </TopBar>
  <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
  <p class="seen-by-readers-only" aria-live="polite">{{ said }}</p>
  <main v-if="view">
    <ShortcutSheet v-if="sheet" :keys="BENCH_KEYS" @close="sheet = false" />
    <div class="over">
      <nav class="no-print" :aria-label="SAY.bench.viewsOfThisSwitch">
        <router-link
          v-for="v in views"
          :key="v.id"
          :to="`/bench/${id}/${v.id}`"
          :aria-current="shown === v.id ? 'page' : undefined"
          replace
          >{{ v.name }}</router-link
        >
      </nav>
      <VerdictStrip
        :view="view"
        :open="open"
        @attach="bench.attach"
        @status="bench.setStatus"
        @back="bench.takeBack"
      />
    </div>
    <UnsentNotice :outbox="outbox" />
    <component
      :is="VIEWS[shown]"
      ref="hands"
      :view="view"
      :open="open"
      :refused="refused"
      :waiting="waiting"
      @record="bench.record"
      @change="bench.change"
      @take-back="bench.takeOut"
      @brought="bench.show"
    >
      <template #meter>
        <v-btn v-if="open && !metered" class="no-print meter" @click="metered = true">{{
          SAY.common.meter
        }}</v-btn>
        <MeterPanel
          v-if="open && metered"
          v-model:address="address"
          v-model:on="on"
          class="no-print"
          :meters="meters"
          :live="live"
          :lost="lost"
          :idle="!instrument"
          :brings="bringable"
          @off="((on = false), (metered = false))"
          @bring="bring"
        />
      </template>
    </component>
    <p class="print-only">
      Started by {{ view.opened_by }}, {{ day(view.opened_at) }} {{ clock(view.opened_at) }}.
      {{ view.entries }} entries.
      {{
        view.leads
          ? `Leads ${ohms(view.leads.ohms)} Ω, taken off every reading.`
          : SAY.bench.byTheBeepLeadsNot
      }}
    </p>
    <p class="print-only">
      {{ SAY.common.kelvokDoesNotCertifyThis }}
    </p>
  </main>
  <p v-else-if="!trouble" class="loading quiet" role="status">{{ SAY.common.loading }}</p>
</template>

<style scoped>
h1 {
  display: inline;
  margin-right: 8px;
  font-size: 19px;
}
main {
  display: grid;
  gap: 10px;
  padding: 8px 20px 24px;
}
.over {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 6px 20px;
}
nav {
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
}
nav a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  padding: 0 10px;
  color: var(--ink);
  text-decoration: none;
  border-bottom: 4px solid transparent;
}
nav a[aria-current] {
  border-color: var(--ember);
  font-weight: 700;
}
.meter {
  justify-self: start;
}
.trouble,
.loading {
  padding: 10px 20px;
}
.print-only {
  display: none;
}
@media print {
  main {
    gap: 6px;
    padding: 4px 0 0;
  }
  .print-only {
    display: block;
    margin: 0;
    font-size: 13px;
  }
}
</style>
