<script setup lang="ts">
import { computed } from 'vue'
import type { CircuitView, Engine, JobView } from '../../api/client'
import { useDisplay } from 'vuetify'
import GateTrack from '../../pictures/GateTrack.vue'
import KillLadder from '../../pictures/KillLadder.vue'
import PointList from '../../pictures/PointList.vue'
import { engineStates } from '../../words/engine'
import CircuitTabs from '../CircuitTabs.vue'
import MeasuredHere from './test/MeasuredHere.vue'
import { SAY } from '../../words/say'

defineProps<{ job: JobView; drawn: CircuitView; chosen: string | undefined }>()
const emit = defineEmits<{ choose: [terminal: string] }>()
/** Id of the circuit that is shown. */
const circuit = defineModel<string>('circuit', { required: true })
const engine = defineModel<Engine>('engine', { required: true })
const { width } = useDisplay()
/** Too narrow for a track: its points are a list. */
const phone = computed(() => width.value <= 600)
</script>

<template>
  <div>
    <div class="head no-print">
      <CircuitTabs v-model="circuit" :circuits="job.circuits" />
      <label
        >{{ SAY.job.engine }}
        <select v-model="engine">
          <option v-for="e in engineStates(job.recoil)" :key="e.id" :value="e.id">
            {{ e.name }}
          </option>
        </select></label
      >
    </div>
    <PointList
      v-if="drawn.shape === 'track' && phone"
      :trace="drawn"
      :chosen="chosen"
      @choose="emit('choose', $event)"
    />
    <GateTrack
      v-else-if="drawn.shape === 'track'"
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

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 0 16px;
  justify-content: space-between;
  align-items: center;
}
select {
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--dead);
  border-radius: 10px;
  background: var(--panel);
}
</style>
