<script setup lang="ts">
import type { JobView } from '../api/client'
import { SAY } from '../words/say'
import BarTools from './BarTools.vue'
import ShortcutSheet from './ShortcutSheet.vue'
import TopBar from './TopBar.vue'

/** The frame of a page about one side of a job: its bar, what is in the way, and its sheet of keys. */
defineProps<{
  id: string
  job: JobView | undefined
  /** What the page is about, as its button says it. */
  about: string
  trouble: string
  /** There is something to show. */
  ready: boolean
  /** What is said until there is. */
  working: string
  keys: [string, string][]
}>()
const keysShown = defineModel<boolean>('keysShown', { required: true })
</script>

<template>
  <TopBar>
    <template v-if="job"
      ><h1>{{ job.number }} · {{ job.make }} {{ job.model }}</h1>
      <span class="quiet">{{ job.tag }} · {{ about.toLowerCase() }}</span></template
    >
    <template #right>
      <v-btn class="no-print" variant="text" :to="`/jobs/${id}`">{{
        SAY.common.backToTheJob
      }}</v-btn>
      <BarTools @keys="keysShown = true" />
    </template>
  </TopBar>
  <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
  <main v-if="job && ready"><slot /></main>
  <p v-else-if="!trouble" class="loading quiet" role="status">{{ working }}</p>
  <ShortcutSheet v-if="keysShown" :keys="keys" @close="keysShown = false" />
</template>

<style scoped>
h1 {
  display: inline;
  margin-right: 8px;
  font-size: 17px;
}
main {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 14px;
  padding: 16px 20px 24px;
}
p {
  margin: 0;
}
.trouble {
  padding: 10px 14px;
  border-left: 8px solid var(--plum);
  background: var(--panel);
  font-weight: 600;
}
.loading {
  padding: 24px;
}
@media (max-width: 600px) {
  main {
    padding-inline: 12px;
  }
}
</style>
