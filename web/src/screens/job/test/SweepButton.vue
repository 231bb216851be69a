<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { ApiError, api, type JobView } from '../../../api/client'
import { SAY } from '../../../words/say'

/** Leads to the sweep of a kill wire, where one is worth its plug. */
const props = defineProps<{ job: JobView }>()
const worth = ref(false)

onMounted(async () => {
  if (!props.job.circuits.some((c) => c.shape === 'ladder')) return
  try {
    worth.value = (await api.sweeps(props.job.id)).some((s) => s.walk?.worth_it)
  } catch (error) {
    // The plan's own tests do without it.
    if (!(error instanceof ApiError)) throw error
  }
})
</script>

<template>
  <v-btn v-if="worth" size="small" :to="`/jobs/${job.id}/sweep`">{{
    SAY.job.sweepTheKillWire
  }}</v-btn>
</template>
