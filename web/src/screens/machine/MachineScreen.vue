<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { stepControl } from '../../input/stepControl'
import { useShortcuts } from '../../input/useShortcuts'
import OperatorStation from '../../pictures/OperatorStation.vue'
import MachineNotices from '../MachineNotices.vue'
import TopBar from '../TopBar.vue'
import CircuitsView from './CircuitsView.vue'
import ComparePanel from './ComparePanel.vue'
import ConditionBar from './ConditionBar.vue'
import DecidesView from './DecidesView.vue'
import { useMachine } from './useMachine'
import { SAY } from '../../words/say'

const props = defineProps<{ name: string; view?: string }>()
const route = useRoute()
const router = useRouter()

const VIEWS = [
  { id: '', title: 'How it decides' },
  { id: 'circuits', title: 'Circuits' },
  { id: 'harness', title: 'Harness map' },
  { id: 'parts', title: 'Parts and wires' },
  { id: 'faults', title: 'Fault sheet' },
  { id: 'jobs', title: 'Jobs' },
  { id: 'revisions', title: 'Revisions' },
]
const HarnessView = defineAsyncComponent(() => import('./HarnessView.vue'))
const PartsView = defineAsyncComponent(() => import('./PartsView.vue'))
const FaultsView = defineAsyncComponent(() => import('./FaultsView.vue'))
const JobsView = defineAsyncComponent(() => import('./JobsView.vue'))
const RevisionsView = defineAsyncComponent(() => import('./RevisionsView.vue'))

const machine = useMachine(props.name)
const { detail, snapshot, standing, controls, stand, trouble, lag, named, load, go, move } = machine
onMounted(async () => {
  await load()
  // The layout's script is large: fetched before it is asked for.
  void import('../../pictures/harnessLayout')
})

const shown = computed(() => VIEWS.find((v) => v.id === (props.view ?? ''))?.id ?? '')
/** Where nothing depends on the condition, the station is not shown. */
const stands = computed(() => ['', 'circuits', 'harness'].includes(shown.value))
const compared = computed(() =>
  detail.value?.conditions.find((c) => c.name === String(route.query.with ?? '')),
)

/** Wires that are different than in the condition compared with. */
const changed = ref<string[]>([])

function address(view: string) {
  return { path: `/machines/${props.name}${view ? `/${view}` : ''}`, query: route.query }
}

useShortcuts((key, shift) => {
  const digit = Number(key)
  if (digit >= 1 && digit <= VIEWS.length) {
    void router.replace(address(VIEWS[digit - 1]!.id))
    return true
  }
  const next = stands.value && stepControl(controls.value, stand.value, key, shift)
  if (next) void move(next.control, next.position)
  return !!next
})
</script>

<template>
  <TopBar>
    <div v-if="detail" class="title">
      <h1>{{ detail.make }} {{ detail.model }}</h1>
      <span class="quiet"
        >{{ detail.family }}{{ detail.years ? `, ${detail.years}` : '' }} · {{ detail.source }},
        revision {{ detail.revision }}</span
      >
    </div>
  </TopBar>
  <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
  <main v-if="detail && snapshot" :data-lag="Math.round(lag)">
    <nav class="views no-print" :aria-label="SAY.machine.viewsOfTheMachine">
      <router-link
        v-for="(v, i) in VIEWS"
        :key="v.id"
        :to="address(v.id)"
        replace
        :aria-current="shown === v.id ? 'page' : undefined"
        ><kbd aria-hidden="true">{{ i + 1 }}</kbd> {{ v.title }}</router-link
      >
      <router-link :to="`/machines/${name}/trace`">{{ SAY.trace.traceItsWires }}</router-link>
      <router-link :to="`/machines/${name}/edit`">{{ SAY.machine.editTheDrawing }}</router-link>
    </nav>
    <div class="notice"><MachineNotices :of="detail" :machine="name" /></div>
    <div v-if="stands" class="condition">
      <OperatorStation class="no-print" :controls="controls" :condition="stand" @move="move" />
      <ConditionBar
        :detail="detail"
        :standing="standing"
        :snapshot="snapshot"
        :named="named"
        @go="go"
        @changed="detail.conditions = $event"
      />
      <ComparePanel
        v-if="compared"
        :detail="detail"
        :standing="standing"
        :other="compared"
        :named="named"
        @compared="changed = $event"
      />
    </div>
    <DecidesView v-if="shown === ''" :detail="detail" :standing="standing" @go="go" />
    <CircuitsView v-else-if="shown === 'circuits'" :detail="detail" :standing="standing" @go="go" />
    <HarnessView
      v-else-if="shown === 'harness'"
      :detail="detail"
      :snapshot="snapshot"
      :changed="compared ? changed : []"
    />
    <PartsView v-else-if="shown === 'parts'" :detail="detail" />
    <FaultsView v-else-if="shown === 'faults'" :detail="detail" />
    <JobsView v-else-if="shown === 'jobs'" :detail="detail" />
    <RevisionsView v-else :detail="detail" @restored="load" />
    <p class="disclaimer">
      {{ SAY.machine.kelvokDoesNotCertifyThis }}
    </p>
  </main>
  <p v-else-if="!trouble" class="loading quiet" role="status">{{ SAY.common.loading }}</p>
</template>

<style scoped>
.title {
  font-size: 17px;
}
h1 {
  display: inline;
  margin-right: 6px;
  font-size: inherit;
}
.views {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 0 16px;
  border-bottom: 1px solid var(--rule);
}
.views a {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 48px;
  padding: 0 10px;
  color: var(--ink);
  font-size: 17px;
  text-decoration: none;
  border-bottom: 4px solid transparent;
}
.views a[aria-current] {
  border-color: var(--ember);
  font-weight: 700;
}
kbd {
  padding: 0 5px;
  border: 1px solid var(--dead);
  border-radius: 5px;
  font:
    700 13px 'Atkinson Hyperlegible Mono',
    monospace;
}
main {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
}
.notice:not(:empty) {
  margin: 0 20px;
}
.condition {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  padding: 0 20px;
}
.trouble {
  margin: 0;
  padding: 10px 20px;
  border-left: 8px solid var(--plum);
  background: var(--panel);
  font-weight: 600;
}
.loading {
  padding: 20px;
}
.disclaimer {
  margin: 0;
  padding: 10px 20px 20px;
  color: var(--quiet);
  font-size: 15px;
}
</style>
