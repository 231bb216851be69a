<script setup lang="ts">
import { mdiDialpad } from '@mdi/js'
import { computed, nextTick, ref, watch } from 'vue'
import type { BenchView } from '../../../api/client'
import ReadingPad from '../../../input/ReadingPad.vue'
import { ohms, percent } from '../../../words/numbers'
import { moveWords, stayWords } from '../../../words/bench'
import BeepNoBeep from './BeepNoBeep.vue'
import DoCard from './DoCard.vue'
import LeadsCard from './LeadsCard.vue'
import type { Probe } from './probe'
import { SAY } from '../../../words/say'

/** The one thing to do next at the bench. */
const props = defineProps<{
  view: BenchView
  probe: Probe | undefined
  leads: boolean
  refused: string
  waiting: boolean
}>()
const emit = defineEmits<{
  answer: [typed: string]
  leads: [touching: string, apart: string]
  skip: []
  plan: []
  operate: [times: number]
  again: []
}>()

/** Operations without a miss, and what they are worth: n = ln 0.05 / ln (1 - p). */
const OPERATIONS = [
  { times: 5, below: 46 },
  { times: 10, below: 26 },
  { times: 29, below: 10 },
  { times: 59, below: 5 },
]

const draft = `kelvok.draft.${window.location.pathname}`
const typed = ref(sessionStorage.getItem(draft) ?? '')
watch(typed, (text) => sessionStorage.setItem(draft, text))
const pad = ref(window.matchMedia('(pointer: coarse)').matches)
const field = ref<{ focus(): void } | null>(null)

const next = computed(() => props.view.next)
const moved = computed(() => props.probe && props.probe.position !== next.value.at)
const doing = computed(() => {
  const { probe, view } = props
  if (!probe) return ''
  const words = moveWords(view.subject, probe.position)
  switch (probe.kind) {
    case 'hold':
      return `${words}, and hold`
    case 'let-go':
      return 'Let it spring back'
    default:
      return moved.value ? words : stayWords(view.subject, probe.position)
  }
})
const why = computed(() => {
  const { probe } = props
  switch (probe?.kind) {
    case 'own':
      return 'Your own choice'
    case 'identify':
      return `Tells which is which · ${percent(next.value.chance ?? 0)} chance it beeps`
    case 'hold':
    case 'let-go':
      return `Again and again: ${next.value.done} of ${next.value.wanted} done`
    default:
      return 'Next pair, fewest probes'
  }
})

function answer(text = typed.value) {
  if (!text.trim()) return
  typed.value = ''
  emit('answer', text)
}

/** Begins a reading with a digit typed anywhere. */
function begin(text: string) {
  typed.value = text
  void nextTick(() => field.value?.focus())
}
// A reading that was refused comes back.
watch(
  () => props.refused,
  (why) => why && props.probe?.typed && (typed.value = props.probe.typed),
)
defineExpose({ begin })
</script>

<template>
  <DoCard :label="SAY.common.next">
    <LeadsCard v-if="leads" @record="(t, a) => emit('leads', t, a)" @skip="emit('skip')" />
    <template v-else-if="probe">
      <p class="why">
        <b>{{ why }}</b>
        <v-btn v-if="probe.kind === 'own'" size="small" variant="text" @click="emit('plan')">{{
          SAY.common.backToThePlan
        }}</v-btn>
      </p>
      <p class="do" :class="{ moved }">{{ doing }}</p>
      <dl class="probes">
        <div>
          <dt class="red">{{ SAY.common.red }}</dt>
          <dd class="mono">{{ probe.from }}</dd>
        </div>
        <div>
          <dt class="black">{{ SAY.common.black }}</dt>
          <dd class="mono">{{ probe.to }}</dd>
        </div>
      </dl>
      <p v-if="probe.expected != null" class="expect">
        {{ SAY.bench.should }} <b>{{ probe.expected ? SAY.bench.beep : SAY.bench.notBeep }}</b>
      </p>
      <BeepNoBeep @answer="answer" />
      <form class="typed" @submit.prevent="answer()">
        <v-text-field
          ref="field"
          v-model="typed"
          class="mono"
          :label="SAY.bench.orOhms"
          :inputmode="pad ? 'none' : 'text'"
          autocomplete="off"
          @keydown.esc="($event.target as HTMLElement).blur()"
        />
        <v-btn
          height="52"
          min-width="44"
          :aria-label="SAY.bench.olOverRange"
          @click="answer('OL')"
          >{{ SAY.bench.ol }}</v-btn
        >
        <v-btn
          height="52"
          min-width="44"
          :aria-pressed="pad"
          :aria-label="SAY.common.readingPad"
          @click="pad = !pad"
          ><v-icon :icon="mdiDialpad"
        /></v-btn>
        <v-btn type="submit" height="52" :disabled="!typed.trim()">{{ SAY.common.record }}</v-btn>
      </form>
      <ReadingPad v-if="pad" @key="typed += $event" @back="typed = typed.slice(0, -1)" />
    </template>
    <template v-else>
      <p class="do">{{ SAY.bench.nothingMoreToTest }}</p>
      <p>
        {{ SAY.bench.everyPairIsKnown
        }}<template v-if="view.operated.length">
          {{ ` ${SAY.bench.andWhatSpringsBackWas}` }}</template
        >. Tap a cell to try it again.
      </p>
      <div
        v-if="view.operated.length"
        class="more"
        role="group"
        :aria-label="SAY.bench.operateItMoreOften"
      >
        <v-btn
          v-for="o in OPERATIONS"
          :key="o.times"
          :class="{ strong: view.subject.operations === o.times }"
          :aria-pressed="view.subject.operations === o.times"
          :aria-label="`${o.times} times`"
          @click="emit('operate', o.times)"
          >{{ o.times }}×</v-btn
        >
        <p class="quiet">
          Without a miss, with 95% confidence fewer fail than
          {{ OPERATIONS.map((o) => o.below).join(', ') }} in 100.
        </p>
      </div>
    </template>
    <p v-if="!leads" class="zero">
      {{ view.leads ? `Leads ${ohms(view.leads.ohms)} Ω, taken off.` : SAY.bench.leadsNotChecked }}
      <v-btn size="small" height="44" variant="text" @click="emit('again')">{{
        SAY.bench.checkTheLeads
      }}</v-btn>
    </p>
    <p v-if="refused" class="refused" role="alert">{{ refused }}</p>
    <p v-if="waiting" class="waiting" role="alert">
      {{ SAY.common.theServerOrItsDatabase }}
    </p>
  </DoCard>
</template>

<style scoped>
dd {
  margin: 0;
}
.why {
  font-size: 15px;
}
.moved::before {
  content: '↻ ';
  color: var(--ember);
}
.probes {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
dt {
  font-size: 15px;
  font-weight: 700;
  text-transform: uppercase;
}
.red {
  color: var(--ember);
}
.probes div {
  padding-left: 10px;
  border-left: 7px solid var(--ember);
}
.probes div + div {
  border-left: 7px dashed var(--ink);
}
dd {
  font-size: 34px;
  font-weight: 700;
  line-height: 1.1;
  overflow-wrap: anywhere;
}
.zero {
  display: flex;
  align-items: center;
  justify-content: space-between;
  font-size: 15px;
}
.expect {
  font-size: 20px;
}
.more :deep(.v-btn) {
  min-width: 56px;
}
.more {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.typed {
  display: grid;
  grid-template-columns: 1fr auto auto auto;
  gap: 6px;
}
.typed :deep(.v-btn) {
  padding: 0 10px;
}
.refused {
  font-weight: 600;
  color: var(--plum);
}
</style>
