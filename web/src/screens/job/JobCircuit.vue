<script setup lang="ts">
import type { CircuitView, JobView } from '../../api/client'
import GateTrack from '../../pictures/GateTrack.vue'
import KillLadder from '../../pictures/KillLadder.vue'
import CircuitTabs from '../CircuitTabs.vue'
import MeasuredHere from './MeasuredHere.vue'

defineProps<{ job: JobView; drawn: CircuitView; chosen: string | undefined }>()
const emit = defineEmits<{ choose: [terminal: string] }>()
/** Id of the circuit that is shown. */
const circuit = defineModel<string>('circuit', { required: true })
</script>

<template>
  <div>
    <CircuitTabs v-model="circuit" class="no-print" :circuits="job.circuits" />
    <GateTrack
      v-if="drawn.shape === 'track'"
      :trace="drawn"
      :chosen="chosen"
      @choose="emit('choose', $event)"
    />
    <template v-else>
      <KillLadder :ladder="drawn" />
      <MeasuredHere :job="job" :terminals="drawn.terminals" />
    </template>
  </div>
</template>
