<script setup lang="ts">
import { computed } from 'vue'
import type { ConclusionView, JobView, TestView } from '../../../api/client'
import { strainWords } from '../../../words/doubts'
import { observed } from '../../../words/observed'
import { capital } from '../../../words/units'
import CauseLine from '../../CauseLine.vue'
import { SAY } from '../../../words/say'

const props = defineProps<{ job: JobView; found: ConclusionView }>()
const emit = defineEmits<{ test: [test: TestView] }>()

const restsOn = computed(() =>
  props.found.rests_on.flatMap((sequence) => {
    const entry = props.job.evidence.find((e) => e.sequence === sequence)
    return entry ? [observed(props.job, entry)] : []
  }),
)
const harms = computed(() => props.found.harms.map((h) => capital(strainWords(h))))
</script>

<template>
  <div>
    <p v-if="restsOn.length">
      <b>{{ SAY.job.becauseOf }}</b> {{ restsOn.join('; ') }}.
    </p>
    <template v-if="found.causes.length">
      <p>
        <b>{{ SAY.job.whatMayHaveCausedIt }}</b> {{ SAY.job.checkBeforeYouPutIn }}
      </p>
      <ul>
        <li v-for="(cause, i) in found.causes" :key="i">
          <CauseLine :cause="cause">
            <v-btn
              v-if="cause.test && job.status === 'open'"
              height="44"
              @click="emit('test', cause.test)"
              >{{ SAY.job.checkIt }}</v-btn
            >
          </CauseLine>
        </li>
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
    <p v-if="found.causes.length || harms.length" class="no-print">
      <RouterLink class="fuses" :to="`/jobs/${job.id}/fuses`">{{ SAY.fuses.lookAt }}</RouterLink>
    </p>
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
.fuses {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--slate);
}
</style>
