<script setup lang="ts">
import { computed, ref } from 'vue'
import type { JobView } from '../../api/client'
import { day } from '../../words/numbers'
import EditJob from './EditJob.vue'
import { SAY } from '../../words/say'

/** What the customer says, whose machine it is, and since when it is here. */
const props = defineProps<{ job: JobView }>()
const emit = defineEmits<{ changed: [] }>()
const editing = ref(false)

const facts = computed(() =>
  [
    props.job.tag && `Tag ${props.job.tag}`,
    props.job.owner,
    props.job.serial && `Serial ${props.job.serial}`,
    props.job.hours != null && `${props.job.hours} h`,
    `In since ${day(props.job.opened_at)}`,
  ].filter(Boolean),
)
</script>

<template>
  <section class="complaint" :aria-label="SAY.job.complaint">
    <p class="said">
      <b>{{ SAY.job.customerSays }}</b> {{ job.complaint }}
    </p>
    <p class="quiet">
      {{ facts.join(' · ') }}
      <v-btn
        v-if="job.status === 'open'"
        class="no-print"
        size="small"
        variant="text"
        :aria-expanded="editing"
        @click="editing = !editing"
        >{{ SAY.job.edit }}</v-btn
      >
    </p>
    <EditJob v-if="editing" :job="job" @changed="emit('changed')" @close="editing = false" />
  </section>
</template>

<style scoped>
p {
  margin: 0;
  overflow-wrap: anywhere;
}
.said {
  max-height: 4.2em;
  overflow-y: auto;
  line-height: 1.35;
}
.quiet {
  font-size: 14px;
}
</style>
