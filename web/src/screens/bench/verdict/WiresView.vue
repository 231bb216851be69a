<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { BenchView, SeenAtBench } from '../../../api/client'
import { FUNCTION, moveWords } from '../../../words/bench'
import BenchColumns from '../found/BenchColumns.vue'
import BeepNoBeep from '../probe/BeepNoBeep.vue'
import DoCard from '../probe/DoCard.vue'
import FitNotice from './FitNotice.vue'
import MachinePicker from '../lay/MachinePicker.vue'
import type { Said } from '../useSwitch'
import { SAY } from '../../../words/say'

/** The machine's plug against this switch: wires moved one at a time, and the check at the end. */
const props = defineProps<{ view: BenchView; open: boolean; refused: string }>()
const emit = defineEmits<{ record: [seen: SeenAtBench]; change: [to: Said] }>()

const machine = ref<{ machine: string; part: string }>()
const plug = ref<{ [terminal: string]: string }>({})
watch(
  () => props.view.plug,
  (now) => {
    plug.value = { ...now }
  },
  { immediate: true },
)
const plan = computed(() => props.view.wires)
const wires = computed(() =>
  props.view.wants.map((t) => ({
    title: `${t.id}, ${FUNCTION[t.function]}${looks(t.id) ? `, ${looks(t.id)}` : ''}`,
    value: t.id,
  })),
)
function looks(wire: string): string {
  return plan.value?.looks[wire] ?? ''
}
function wireName(wire: string): string {
  return looks(wire) ? `${looks(wire)} (${wire})` : wire
}
const whole = computed(
  () => new Set(Object.values(plug.value)).size === props.view.subject.terminals.length,
)
const check = computed(() => plan.value?.check ?? [])
const at = computed(() => check.value.findIndex((c) => c.found == null))
const next = computed(() => check.value[at.value])
const wrong = computed(() => check.value.filter((c) => c.found != null && c.found !== c.made))

function take(typed: string) {
  const c = next.value
  if (!c || plan.value?.moves.length || !props.open) return
  const made = /^(buzz|z)/i.test(typed) || Number.parseFloat(typed) < 30
  emit('record', { kind: 'wire-checked', position: c.position, from: c.one, to: c.other, made })
}
defineExpose({ take })
</script>

<template>
  <BenchColumns>
    <section :aria-label="SAY.common.wires">
      <h2>{{ SAY.bench.theMachinesPlugOnThis }}</h2>
      <template v-if="!view.wants.length">
        <p>{{ SAY.bench.sayWhichMachineItGoes }}</p>
        <template v-if="open">
          <MachinePicker @chosen="(at) => (machine = at)" />
          <v-btn :disabled="!machine" @click="machine && emit('change', { machine })">{{
            SAY.bench.compareWithItsPlug
          }}</v-btn>
        </template>
      </template>
      <template v-else>
        <p>
          {{ view.machine?.machine }}: which wire sits at which terminal when the plug is pushed on?
        </p>
        <div class="plug">
          <v-select
            v-for="t in view.subject.terminals"
            :key="t"
            v-model="plug[t]"
            :label="`At terminal ${t}`"
            :items="wires"
            :disabled="!open || (plan?.moved ?? 0) > 0"
          />
        </div>
        <v-btn v-if="open && !plan?.moved" :disabled="!whole" @click="emit('change', { plug })">{{
          SAY.bench.thatsHowItsPlugged
        }}</v-btn>
        <p v-if="!plan" class="big">
          {{
            view.progress.every((p) => p.complete)
              ? SAY.bench.howeverYouWireItThis
              : SAY.bench.finishTheTableFirstThen
          }}
        </p>
        <template v-else>
          <p class="big" role="status">
            <template v-if="plan.moves.length"
              >{{ plan.moves.length }}
              {{ plan.moves.length === 1 ? SAY.bench.wire : SAY.bench.wires }} to move, one at a
              time.</template
            ><template v-else-if="plan.moved">{{ SAY.bench.everyWireIsWhereIt }}</template
            ><template v-else>{{ SAY.bench.thePlugFitsAsIt }}</template>
          </p>
          <p v-if="plan.orders > 1" class="quiet">
            {{ plan.orders }} layouts work the same at the switch; this one moves the fewest wires.
            Where no reading tells two apart, kill and ground above all, go by what the machine’s
            wires do.
          </p>
          <ol>
            <li v-for="(m, i) in plan.moves" :key="i" :class="{ now: i === 0 }">
              <span
                ><b>{{ wireName(m.wire) }}</b>
                {{ m.from ? `out of cavity ${m.from}` : SAY.bench.heldAsideUntilNow }},
                <b>{{ m.to ? `into cavity ${m.to}` : SAY.bench.holdItAsideTaped }}</b></span
              >
              <v-btn
                v-if="i === 0 && open"
                class="strong"
                @click="emit('record', { kind: 'wire-moved', wire: m.wire, to: m.to ?? null })"
                >{{ SAY.common.done }}</v-btn
              >
            </li>
          </ol>
          <p v-if="plan.aside.length" class="warn">
            Held aside now: {{ plan.aside.map(wireName).join(', ') }}. Battery negative off until it
            is back in the plug.
          </p>
        </template>
      </template>
      <p v-if="refused" class="bad" role="alert">{{ refused }}</p>
    </section>
    <template #aside>
      <FitNotice :view="view" />
      <p class="caution">
        {{ SAY.bench.batteryNegativeClampOffBefore }}
      </p>
      <DoCard v-if="plan && check.length" :label="SAY.bench.check">
        <h2>{{ SAY.bench.checkAtTheEnd }}</h2>
        <p v-if="plan.moves.length" class="quiet">{{ SAY.bench.whenEveryWireIsMoved }}</p>
        <template v-else-if="next && open">
          <p class="do">{{ moveWords(view.subject, next.position) }}</p>
          <p>
            {{ SAY.bench.fromWire }} <b>{{ wireName(next.one) }}</b> to wire
            <b>{{ wireName(next.other) }}</b>: should
            <b>{{ next.made ? SAY.bench.beep : SAY.bench.notBeep }}</b>
          </p>
          <BeepNoBeep @answer="take" />
        </template>
        <p v-else-if="wrong.length" class="bad" role="status">
          {{ wrong.length }} of {{ check.length }} are not as they should be: look at the plug
          again.
        </p>
        <p v-else-if="at < 0" role="status">
          <b>{{ SAY.bench.checked }}</b> {{ SAY.bench.nowProveEveryInterlockOn }}
        </p>
        <ul class="checks">
          <li
            v-for="(c, i) in check"
            :key="i"
            :class="{ bad: c.found != null && c.found !== c.made }"
          >
            {{ c.found == null ? '○' : c.found === c.made ? '✓' : '✕' }}
            {{ moveWords(view.subject, c.position) }}: {{ c.one }} – {{ c.other }}
            {{ c.made ? SAY.bench.closed : SAY.common.open }}
          </li>
        </ul>
      </DoCard>
      <slot name="meter" />
    </template>
  </BenchColumns>
</template>

<style scoped>
.plug {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 8px;
  margin-bottom: 8px;
}
.big {
  font-size: 24px;
  font-weight: 700;
  line-height: 1.2;
}
ol {
  margin: 0;
  padding: 0 0 0 26px;
}
li {
  font-size: 18px;
}
ol li {
  min-height: 52px;
  padding: 6px;
  border-top: 1px solid var(--rule);
}
ol li.now {
  background: var(--well);
}
ol li.now :deep(.v-btn) {
  margin-left: 12px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
.checks li {
  font-size: 16px;
}
.bad {
  color: var(--plum);
  font-weight: 700;
}
.warn {
  padding: 8px 12px;
  border: 3px dashed var(--ochre);
  border-radius: 8px;
  font-weight: 700;
}
</style>
