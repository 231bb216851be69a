<script setup lang="ts">
import type { JobView } from '../../api/client'
import { volts } from '../../words/numbers'
import { list } from '../../words/units'
import TopBar from '../TopBar.vue'
import { usePerson } from '../usePerson'

defineProps<{ job: JobView | undefined; supply: number | undefined; toUndo: string[] }>()
const emit = defineEmits<{ keys: [] }>()
const { people, person, choose } = usePerson()

function print() {
  window.print()
}
</script>

<template>
  <TopBar>
    <div v-if="job" class="title">
      <h1>{{ job.make }} {{ job.model }}</h1>
      <span class="quiet">{{ job.tag }} · {{ job.complaint }}</span>
    </div>
    <template #right>
      <span v-if="toUndo.length" class="undo"
        >{{ toUndo.length }} to undo: {{ list(toUndo, 'and') }}</span
      >
      <span v-if="supply != null"
        >Battery <b class="battery mono">{{ volts(supply) }}</b></span
      >
      <label class="who no-print">
        <span class="seen-by-readers-only">Recorded by</span>
        <select :value="person" @change="choose(($event.target as HTMLSelectElement).value)">
          <option v-for="name in people" :key="name">{{ name }}</option>
        </select>
      </label>
      <v-btn class="no-print" variant="text" aria-label="Keys" min-width="44" @click="emit('keys')"
        >?</v-btn
      >
      <v-btn class="no-print" variant="text" @click="print">Print</v-btn>
    </template>
  </TopBar>
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
.battery {
  font-size: 20px;
}
.undo {
  padding: 6px 12px;
  border: 2px solid var(--ochre);
  border-radius: 8px;
  font-weight: 700;
  background: repeating-linear-gradient(135deg, var(--ochre-wash) 0 8px, transparent 8px 16px);
}
select {
  min-height: 44px;
  padding: 0 10px;
  border: 1px solid var(--dead);
  border-radius: 10px;
  background: var(--panel);
}
</style>
