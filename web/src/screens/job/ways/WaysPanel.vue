<script setup lang="ts">
import { computed, onBeforeUnmount, ref } from 'vue'
import {
  ApiError,
  api,
  type Condition,
  type ForecastView,
  type Strategy,
} from '../../../api/client'
import { STRATEGIES } from '../../../words/doubts'
import WorkingBar from '../../WorkingBar.vue'
import ReplaceOrTest from './ReplaceOrTest.vue'
import { SAY } from '../../../words/say'

const props = defineProps<{ job: string; condition: Condition; entries: number }>()
const strategy = defineModel<Strategy>('strategy', { required: true })

const open = ref(false)
const forecast = ref<ForecastView>()
/** How many entries the forecast was made with. */
const at = ref(-1)
const working = ref(false)
const trouble = ref('')
const costs = ref<{ price?: number; fit?: number; rate?: number }>({})

let stop = new AbortController()

async function load() {
  stop.abort()
  const own = (stop = new AbortController())
  working.value = true
  trouble.value = ''
  const entries = props.entries
  try {
    forecast.value = await api.forecast(props.job, props.condition, costs.value, own.signal)
    at.value = entries
  } catch (error) {
    if (own.signal.aborted) return
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
  } finally {
    if (own === stop) working.value = false
  }
}
onBeforeUnmount(() => stop.abort())

function toggle() {
  open.value = !open.value
  if (!open.value) stop.abort()
  if (open.value && at.value !== props.entries) void load()
}

function reckon(changed: typeof costs.value) {
  costs.value = changed
  void load()
}

const current = computed(() => STRATEGIES.find((s) => s.id === strategy.value))
const rows = computed(() =>
  STRATEGIES.map((s) => ({
    ...s,
    found: forecast.value?.strategies.find((f) => f.strategy === s.id),
  })),
)
const stale = computed(() => forecast.value && at.value !== props.entries)
</script>

<template>
  <section class="ways" :aria-label="SAY.job.otherMethods">
    <div class="head">
      <span
        >{{ SAY.job.method }} <b>{{ current?.name.toLowerCase() }}</b></span
      >
      <v-btn size="small" :aria-expanded="open" @click="toggle">{{
        open ? SAY.common.close : SAY.job.otherMethods
      }}</v-btn>
    </div>
    <template v-if="open">
      <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
      <WorkingBar
        v-if="working"
        :path="`/api/v1/jobs/${job}/forecast`"
        says="Comparing methods..."
        @stop="toggle"
      />
      <div role="radiogroup" :aria-label="SAY.job.strategy">
        <button
          v-for="row in rows"
          :key="row.id"
          type="button"
          role="radio"
          :aria-checked="strategy === row.id"
          :class="{ at: strategy === row.id }"
          @click="strategy = row.id"
        >
          <span
            ><b>{{ row.name }}</b
            ><small>{{ row.does }}</small></span
          >
          <span v-if="row.found" class="mono"
            >{{ row.found.minutes.toFixed(0) }} min<small
              >{{ row.found.tests.toFixed(0) }} tests</small
            ></span
          >
        </button>
      </div>
      <v-btn v-if="stale && !working" size="small" @click="load">{{ SAY.job.update }}</v-btn>
      <ReplaceOrTest
        v-if="forecast?.choice"
        :choice="forecast.choice"
        :busy="working"
        @reckon="reckon"
      />
    </template>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
}
p {
  margin: 4px 0;
}
.trouble {
  color: var(--plum);
  font-weight: 600;
}
button[role='radio'] {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 10px;
  width: 100%;
  min-height: 48px;
  padding: 4px 10px;
  border-left: 6px solid transparent;
  border-top: 1px solid var(--rule);
  text-align: left;
  line-height: 1.2;
}
button.at {
  border-left-color: var(--ink);
  background: var(--well);
}
small {
  display: block;
  font-size: 14px;
  color: var(--quiet);
}
.mono {
  flex: none;
  text-align: right;
}
</style>
