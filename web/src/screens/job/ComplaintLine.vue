<script setup lang="ts">
import { computed } from 'vue'
import type { JobView } from '../../api/client'
import { day } from '../../words/numbers'

/** What the customer says, whose machine it is, and since when it is here. */
const props = defineProps<{ job: JobView }>()

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
  <section class="complaint" aria-label="Complaint">
    <p class="said"><b>Customer says:</b> {{ job.complaint }}</p>
    <p class="quiet">{{ facts.join(' · ') }}</p>
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
