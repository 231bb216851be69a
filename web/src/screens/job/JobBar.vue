<script setup lang="ts">
import type { JobView } from '../../api/client'
import { volts } from '../../words/numbers'
import BarTools from '../BarTools.vue'
import TopBar from '../TopBar.vue'
import { SAY } from '../../words/say'

defineProps<{ job: JobView | undefined; supply: number | undefined }>()
const emit = defineEmits<{ keys: []; bay: []; card: [] }>()
</script>

<template>
  <TopBar>
    <a class="skip no-print" href="#card" @click.prevent="emit('card')">{{
      SAY.job.goToTheCard
    }}</a>
    <div v-if="job" class="title">
      <h1>{{ job.number }} · {{ job.make }} {{ job.model }}</h1>
      <span class="quiet">{{ job.tag }}</span>
    </div>
    <template #right>
      <RouterLink v-if="job?.battery" class="no-print to-battery" :to="`/jobs/${job.id}/battery`"
        >{{ SAY.job.battery }}
        <b v-if="supply != null" class="battery mono">{{ volts(supply) }}</b></RouterLink
      >
      <v-btn v-if="job" class="no-print" variant="text" :to="`/jobs/${job.id}/release`">{{
        SAY.release.title
      }}</v-btn>
      <v-btn class="no-print" variant="text" @click="emit('bay')">{{ SAY.job.bayView }}</v-btn>
      <BarTools :sheet="job && `/jobs/${job.id}/sheet/customer`" @keys="emit('keys')" />
    </template>
  </TopBar>
</template>

<style scoped>
.skip {
  position: absolute;
  min-height: 44px;
  left: -9999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  z-index: 2000;
  padding: 12px 16px;
  background: var(--panel);
}
.title {
  font-size: 17px;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
h1 {
  display: inline;
  margin-right: 6px;
  font-size: inherit;
}
.battery {
  font-size: 20px;
}
.to-battery {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 44px;
  color: inherit;
}
</style>
