<script setup lang="ts">
import { usePerson } from './usePerson'
import { SAY } from '../words/say'

/** Who records, the sheet of keys, and print: at the right of the top bar. */
const props = defineProps<{ sheet?: string | undefined }>()
const emit = defineEmits<{ keys: [] }>()
const { people, person, choose } = usePerson()

function print() {
  window.print()
}
</script>

<template>
  <label class="no-print">
    <span class="seen-by-readers-only">{{ SAY.shell.recordedBy }}</span>
    <select :value="person" @change="choose(($event.target as HTMLSelectElement).value)">
      <option v-for="name in people" :key="name">{{ name }}</option>
    </select>
  </label>
  <v-btn
    class="no-print"
    variant="text"
    :aria-label="SAY.shell.keys"
    min-width="44"
    @click="emit('keys')"
    >?</v-btn
  >
  <v-btn v-if="props.sheet" class="no-print" variant="text" :to="props.sheet">{{
    SAY.common.print
  }}</v-btn>
  <v-btn v-else class="no-print" variant="text" @click="print">{{ SAY.common.print }}</v-btn>
</template>

<style scoped>
select {
  min-height: 44px;
  padding: 0 10px;
  border: 1px solid var(--dead);
  border-radius: 10px;
  background: var(--panel);
}
</style>
