<script setup lang="ts">
import type { JobView } from '../../api/client'
import { dateAndDay } from '../../words/numbers'
import { SAY } from '../../words/say'

/** How the machine went back, with the record of it. */
defineProps<{ job: JobView; busy: boolean }>()
const emit = defineEmits<{ reopen: [] }>()
</script>

<template>
  <section
    v-if="job.released"
    class="released"
    :class="{ not: !job.released.released }"
    :aria-label="SAY.release.title"
  >
    <span
      ><b>{{ job.released.released ? SAY.release.released : SAY.release.returned }}</b
      >, {{ job.released.name
      }}<template v-if="job.released.at">, {{ dateAndDay(job.released.at) }}</template
      ><template v-if="job.released.reason">: {{ job.released.reason }}</template>
      <b v-if="job.released.reopened"> {{ SAY.release.reopened }}</b></span
    >
    <router-link class="no-print" :to="`/jobs/${job.id}/release`">{{
      SAY.release.record
    }}</router-link>
    <v-btn
      v-if="!job.released.reopened"
      class="no-print"
      height="44"
      :disabled="busy"
      @click="emit('reopen')"
      >{{ SAY.common.openAgain }}</v-btn
    >
  </section>
</template>

<style scoped>
.released {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
  padding: 6px 14px;
  border-left: 8px solid var(--moss);
  background: var(--panel);
  font-size: 17px;
}
.not {
  border-color: var(--plum);
}
a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
</style>
