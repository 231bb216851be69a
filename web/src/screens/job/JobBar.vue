<script setup lang="ts">
import type { JobView } from '../../api/client'
import { volts } from '../../words/numbers'
import { list } from '../../words/units'
import BarTools from '../BarTools.vue'
import TopBar from '../TopBar.vue'

defineProps<{ job: JobView | undefined; supply: number | undefined; toUndo: string[] }>()
const emit = defineEmits<{ keys: [] }>()
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
      <BarTools @keys="emit('keys')" />
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
</style>
