<script setup lang="ts">
import { computed } from 'vue'
import type { ConclusionView, JobView } from '../../../api/client'
import { strainWords } from '../../../words/doubts'
import { observed } from '../../../words/observed'
import { capital, failing } from '../../../words/units'
import { SAY } from '../../../words/say'

const props = defineProps<{ job: JobView; found: ConclusionView }>()

const restsOn = computed(() =>
  props.found.rests_on.flatMap((sequence) => {
    const entry = props.job.evidence.find((e) => e.sequence === sequence)
    return entry ? [observed(props.job, entry)] : []
  }),
)
const causes = computed(() =>
  props.found.causes.map((c) => {
    const what = failing(c.unit, c.mode, c.element)
    return `${what}: ${strainWords(c.by)}`
  }),
)
const harms = computed(() => props.found.harms.map((h) => capital(strainWords(h))))
</script>

<template>
  <div>
    <p v-if="restsOn.length">
      <b>{{ SAY.job.becauseOf }}</b> {{ restsOn.join('; ') }}.
    </p>
    <template v-if="causes.length">
      <p>
        <b>{{ SAY.job.whatMayHaveCausedIt }}</b> {{ SAY.job.checkBeforeYouPutIn }}
      </p>
      <ul>
        <li v-for="cause in causes" :key="cause">{{ cause }}.</li>
      </ul>
    </template>
    <template v-if="harms.length">
      <p>
        <b>{{ SAY.job.whatItMayHaveDamaged }}</b>
      </p>
      <ul>
        <li v-for="harm in harms" :key="harm">{{ harm }}.</li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
p {
  margin: 4px 0;
}
ul {
  margin: 0 0 4px;
  padding-left: 18px;
  line-height: 1.3;
}
</style>
