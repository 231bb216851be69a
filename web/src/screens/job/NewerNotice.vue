<script setup lang="ts">
import { computed } from 'vue'
import type { JobView } from '../../api/client'
import { SAY } from '../../words/say'

/** Somebody changed the machine's drawing since this job took it. */
const props = defineProps<{ job: JobView; busy: boolean; open: boolean }>()
const emit = defineEmits<{ follow: [revision: string] }>()

const what = computed(() => {
  const newer = props.job.newer
  return (
    newer &&
    `/machines/${props.job.machine}/revisions?from=${props.job.revision}&to=${newer.revision}`
  )
})
</script>

<template>
  <aside
    v-if="open && job.newer && what"
    class="newer no-print"
    :aria-label="SAY.revisions.newerDrawing"
  >
    <span
      ><b>{{ SAY.revisions.newerDrawing }}</b> This job uses revision {{ job.revision }}, the
      machine is at revision {{ job.newer.revision }}.</span
    >
    <router-link :to="what">{{ SAY.revisions.seeWhatChanged }}</router-link>
    <v-btn variant="outlined" :disabled="busy" @click="emit('follow', job.newer.revision_id)"
      >Use revision {{ job.newer.revision }}</v-btn
    >
  </aside>
</template>

<style scoped>
.newer {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
  padding: 6px 14px;
  font-size: 16px;
  border: 1px solid var(--slate);
  border-radius: 8px;
}
a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--slate);
}
.newer :deep(.v-btn) {
  min-height: 44px;
}
</style>
