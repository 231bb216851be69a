<script setup lang="ts">
import { computed } from 'vue'
import type { BatteryEvent, Observed } from '../../../api/client'
import { BATTERY_EVENTS } from '../../../words/noticed'
import { SAY } from '../../../words/say'
import SaidPanel from './SaidPanel.vue'

/** What became of the battery: readings from before it are not held against those after it. */
const props = defineProps<{ job: string; jumperOn: boolean; busy: boolean }>()
const emit = defineEmits<{ said: [observed: Observed]; close: [] }>()

const events = computed<BatteryEvent[]>(() => [
  'charged',
  props.jumperOn ? 'jumper-off' : 'jumper-on',
  'swapped',
  'left-overnight',
])
</script>

<template>
  <SaidPanel
    class="battery"
    :aria-label="SAY.job.battery"
    :title="SAY.job.whatHappenedToTheBattery"
    @close="emit('close')"
  >
    <div class="line">
      <v-btn
        v-for="event in events"
        :key="event"
        height="56"
        :disabled="busy"
        @click="emit('said', { kind: 'battery', event })"
        >{{ BATTERY_EVENTS[event] }}</v-btn
      >
    </div>
    <v-btn class="strong" height="56" :to="`/jobs/${job}/battery`">{{ SAY.battery.testIt }}</v-btn>
    <p v-if="!jumperOn" class="mind">{{ SAY.job.jumperCaution }}</p>
  </SaidPanel>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 8px;
}
.line :deep(.v-btn__content) {
  white-space: normal;
}
.mind {
  margin: 0;
  padding-left: 12px;
  border-left: 6px solid var(--ochre);
  font-size: 16px;
}
</style>
