<script setup lang="ts">
import { computed, ref } from 'vue'
import type { OffView, TraceEnd, TraceStepView } from '../../api/client'
import { SAY } from '../../words/say'
import { endWords } from '../../words/trace'

/** Two pins of the mechanic's own choice. */
const props = defineProps<{ ends: TraceEnd[]; off: OffView[] }>()
const emit = defineEmits<{ measure: [step: TraceStepView] }>()
const red = ref<string>()
const black = ref<string>()
const items = computed(() => props.ends.map((e) => ({ title: endWords(e), value: e.terminal })))

function measure() {
  const at = (terminal?: string) => props.ends.find((e) => e.terminal === terminal)
  const [from, to] = [at(red.value), at(black.value)]
  if (!from || !to || from === to) return
  // The two plugs are off, or no probe gets at the pins.
  const off = props.off.map((o) => o.part)
  const own = [from, to].flatMap((e) => (e.comes_off ? [e.comes_off] : []))
  const pull = own.filter(
    (o, i) => !off.includes(o.part) && own.findIndex((p) => p.part === o.part) === i,
  )
  emit('measure', {
    red: from,
    black: to,
    instrument: 'buzzer',
    pull,
    off: [...off, ...pull.map((o) => o.part)],
    beeps: from.net === to.net,
    again: false,
    search: false,
    cautions: [],
    minutes: 0,
  })
}
</script>

<template>
  <details class="own">
    <summary>{{ SAY.trace.measureSomethingElse }}</summary>
    <form @submit.prevent="measure">
      <v-autocomplete v-model="red" :items="items" :label="SAY.common.red" hide-details />
      <v-autocomplete v-model="black" :items="items" :label="SAY.common.black" hide-details />
      <v-btn type="submit" height="52" :disabled="!red || !black || red === black">{{
        SAY.trace.measureThis
      }}</v-btn>
    </form>
  </details>
</template>

<style scoped>
summary {
  min-height: 44px;
  padding: 10px 0;
  font-size: 17px;
  cursor: pointer;
}
form {
  display: grid;
  gap: 10px;
}
</style>
