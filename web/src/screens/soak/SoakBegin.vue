<script setup lang="ts">
import { computed, ref } from 'vue'
import type { SoakEntry, SoakView, Trigger } from '../../api/client'
import ChoiceRow from '../../input/ChoiceRow.vue'
import { typedNumber } from '../../words/battery'
import { TRIGGERS } from '../../words/soak'
import { SAY } from '../../words/say'

/** How often it happened and what brings it on, before the clock starts. */
const props = defineProps<{
  view: SoakView
  busy: boolean
  enter: (entry: SoakEntry) => Promise<boolean>
}>()

const times = ref('')
const hours = ref('')
const needs = ref<Trigger[]>([])
const share = ref(1)
const missing = ref('')
const SHARES: [string, number][] = [
  [SAY.soak.allOfIt, 1],
  [SAY.soak.halfOfIt, 0.5],
  [SAY.soak.aQuarter, 0.25],
  [SAY.soak.hardlyAny, 0.1],
]
const STILL: [string, number][] = [
  [SAY.soak.nothingFixed, 0.9],
  [SAY.soak.fixedMaybe, 0.5],
  [SAY.soak.fixedSure, 0.2],
]
const nearest = STILL.map(([, still]) => still).sort(
  (a, b) => Math.abs(a - props.view.still) - Math.abs(b - props.view.still),
)[0]
const still = ref(nearest ?? 0.5)
const chosen = computed(() => new Set(needs.value))

function toggle(trigger: Trigger) {
  needs.value = chosen.value.has(trigger)
    ? needs.value.filter((t) => t !== trigger)
    : [...needs.value, trigger]
}

async function begin() {
  const [n, h] = [typedNumber(times.value), typedNumber(hours.value)]
  missing.value = n === undefined || h === undefined ? SAY.soak.bothNumbers : ''
  if (n === undefined || h === undefined) return
  const told = { times: Math.round(n), hours: h, share: needs.value.length ? share.value : 1 }
  await props.enter({ kind: 'began', told, needs: needs.value, still: still.value })
}
</script>

<template>
  <form class="begin" @submit.prevent="begin">
    <h2>{{ SAY.soak.howOften }}</h2>
    <div class="told">
      <v-text-field
        v-model="times"
        class="times"
        :label="SAY.soak.times"
        inputmode="numeric"
        hide-details
      />
      <v-text-field
        v-model="hours"
        class="hours"
        :label="SAY.soak.hours"
        inputmode="decimal"
        hide-details
      />
    </div>
    <fieldset>
      <legend>{{ SAY.soak.bringsItOn }}</legend>
      <div class="choices">
        <v-btn
          v-for="t in view.triggers"
          :key="t"
          height="52"
          :class="{ strong: chosen.has(t) }"
          :aria-pressed="chosen.has(t)"
          @click="toggle(t)"
          >{{ TRIGGERS[t] }}</v-btn
        >
      </div>
    </fieldset>
    <ChoiceRow v-if="needs.length" v-model="share" :legend="SAY.soak.howMuch" :choices="SHARES" />
    <ChoiceRow v-model="still" :legend="SAY.soak.wasItFixed" :choices="STILL" />
    <p v-if="missing" class="missing" role="alert">{{ missing }}</p>
    <v-btn type="submit" class="strong" height="64" :disabled="busy">{{ SAY.soak.begin }}</v-btn>
  </form>
</template>

<style scoped>
.begin {
  display: grid;
  gap: 16px;
}
h2 {
  margin: 0;
  font-size: 22px;
}
.told {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
fieldset {
  margin: 0;
  padding: 0;
  border: 0;
}
legend {
  margin-bottom: 6px;
  font-size: 17px;
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.choices :deep(.v-btn__content) {
  white-space: normal;
}
.missing {
  margin: 0;
  color: var(--plum);
  font-weight: 600;
}
</style>
