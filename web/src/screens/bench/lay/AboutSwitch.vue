<script setup lang="ts">
import { ref, watch } from 'vue'
import type { BenchView } from '../../../api/client'
import type { Said } from '../useSwitch'
import { SAY } from '../../../words/say'

/** What it is called, and how it is tested. */
const props = defineProps<{ view: BenchView; open: boolean }>()
const emit = defineEmits<{ change: [to: Said] }>()

const name = ref('')
const newPart = ref(false)
const operations = ref(5)
const moveProbes = ref(3)
watch(
  () => props.view.version,
  () => {
    name.value = props.view.name
    newPart.value = props.view.new_part
    operations.value = props.view.subject.operations ?? 5
    moveProbes.value = props.view.subject.move_probes ?? 3
  },
  { immediate: true },
)

function keep() {
  emit('change', {
    name: name.value,
    new_part: newPart.value,
    subject: {
      ...props.view.subject,
      operations: operations.value,
      move_probes: moveProbes.value,
    },
  })
}
</script>

<template>
  <form class="panel" :aria-label="SAY.bench.aboutThisSwitch" @submit.prevent="keep">
    <h2>{{ SAY.bench.aboutThisSwitch }}</h2>
    <v-text-field v-model="name" :label="SAY.bench.callIt" :disabled="!open" />
    <div class="two">
      <v-text-field
        v-model.number="operations"
        type="number"
        min="1"
        max="1000"
        :label="SAY.bench.operateTimes"
        :disabled="!open"
      />
      <v-text-field
        v-model.number="moveProbes"
        type="number"
        min="0"
        max="100"
        :label="SAY.bench.aMoveCostsProbes"
        :disabled="!open"
      />
    </div>
    <label
      ><input v-model="newPart" type="checkbox" :disabled="!open" />
      {{ SAY.bench.aNewPartNotFitted }}</label
    >
    <v-btn v-if="open" type="submit">{{ SAY.bench.keepItLikeThis }}</v-btn>
  </form>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  padding: 12px 14px;
  border-left: 4px solid var(--rule);
  background: var(--panel);
}
h2 {
  margin: 0;
  font-size: 18px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
label {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
}
input[type='checkbox'] {
  width: 24px;
  height: 24px;
}
</style>
