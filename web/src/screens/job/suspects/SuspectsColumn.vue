<script setup lang="ts">
import type { DiagnosisView, JobView, OpenWiringView, TestView } from '../../../api/client'
import SuspectList from '../../../pictures/SuspectList.vue'
import { SAY } from '../../../words/say'
import CannotBe from './CannotBe.vue'
import ProofPanel from './ProofPanel.vue'
import SayWhatItIs from './SayWhatItIs.vue'
import WiringPanel from './WiringPanel.vue'

/** What it may be, how the machine may be wired, what it cannot be, what was tested. */
defineProps<{
  job: JobView
  diagnosis: DiagnosisView
  busy: boolean
  open: boolean
  verdict: boolean
  /** The drawing was changed just now. */
  rewired: boolean
}>()
const emit = defineEmits<{
  keep: [units: string[]]
  settle: [open: OpenWiringView, choice: string | null]
  unsettle: []
  test: [test: TestView]
}>()
</script>

<template>
  <aside>
    <SuspectList :diagnosis="diagnosis" :most="4" />
    <p v-if="rewired" role="status" class="rewired">
      {{ SAY.job.theDrawingIsChanged }}
      <v-btn size="small" :disabled="busy" @click="emit('unsettle')">{{ SAY.common.undo }}</v-btn>
    </p>
    <WiringPanel
      v-if="diagnosis.wiring"
      :wiring="diagnosis.wiring"
      :controls="job.controls"
      :busy="busy"
      :closed="!open"
      @settle="(alternative, choice) => emit('settle', alternative, choice)"
      @test="emit('test', $event)"
    />
    <CannotBe :job="job" :excluded="diagnosis.excluded" />
    <ProofPanel :diagnosis="diagnosis" />
    <SayWhatItIs v-if="open && !verdict" :job="job" :busy="busy" @keep="emit('keep', $event)" />
  </aside>
</template>

<style scoped>
.rewired {
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
  padding: 4px 10px;
  border-left: 5px solid var(--moss);
}
</style>
