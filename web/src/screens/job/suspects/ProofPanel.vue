<script setup lang="ts">
import { computed } from 'vue'
import type { DiagnosisView } from '../../../api/client'
import { lower } from '../../../words/units'
import { SAY } from '../../../words/say'

const props = defineProps<{ diagnosis: DiagnosisView }>()

const names = (grade: string) =>
  props.diagnosis.cleared.filter((c) => c.grade === grade).map((c) => lower(c.name))
const loaded = computed(() => names('under-load'))
const notOpen = computed(() => names('not-open'))
</script>

<template>
  <section :aria-label="SAY.job.testedSoFar">
    <p v-if="loaded.length">
      <b class="good">{{ SAY.job.goodUnderLoad }}</b> {{ loaded.join('; ') }}.
    </p>
    <p v-if="notOpen.length">
      <b class="good">{{ SAY.job.notOpen }}</b> {{ notOpen.join('; ') }}. Not tested under load yet.
    </p>
    <p v-if="diagnosis.not_touched.length">
      <b>{{ SAY.job.notTestedYet }}</b> {{ diagnosis.not_touched.map(lower).join('; ') }}.
    </p>
  </section>
</template>

<style scoped>
p {
  margin: 0 0 6px;
  font-size: 15px;
  line-height: 1.35;
}
.good {
  color: var(--moss);
}
</style>
