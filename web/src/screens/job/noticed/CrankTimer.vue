<script setup lang="ts">
import { CRANK, REST, useCranking } from './useCranking'
import { SAY } from '../../../words/say'

const { phase, left, start, stop } = useCranking()
</script>

<template>
  <div class="crank" :class="phase">
    <v-btn v-if="phase === 'ready'" size="small" @click="start">{{ SAY.job.timeTheCrank }}</v-btn>
    <template v-else>
      <b class="mono">{{ left }} s</b>
      <span role="status">{{
        phase === 'cranks' ? `Crank, ${CRANK} s at most.` : `Let go. Rest ${REST} s.`
      }}</span>
      <v-btn size="small" variant="text" @click="stop">{{ SAY.job.stopClock }}</v-btn>
    </template>
  </div>
</template>

<style scoped>
.crank {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  font-size: 17px;
}
b {
  min-width: 62px;
  font-size: 26px;
}
.rests b {
  color: var(--ember);
}
</style>
