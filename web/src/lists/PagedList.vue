<script setup lang="ts">
import { computed } from 'vue'
import { SAY } from '../words/say'
import ListPager from './ListPager.vue'
import SearchField from './SearchField.vue'
import UnreadableNotice from './UnreadableNotice.vue'
import type { Listed } from './usePagedList'

/** One, many, and some that can’t be read, as they are called. */
const NAMES = {
  jobs: [SAY.common.job, SAY.common.countedJobs, SAY.common.ofTheseJobs],
  machines: [SAY.machines.machine, SAY.machines.machines, SAY.machines.ofTheseMachines],
  switches: [SAY.bench.switch, SAY.bench.countedSwitches, SAY.bench.ofTheseSwitches],
} as const

/**
 * A list of the shop, page by page: searched, and saying what it waits for, what went wrong, what can't
 * be read and that nothing is there. Its rows are the slot.
 */
const props = defineProps<{
  list: Listed
  /** Label of the search. */
  search: string
  /** What is in it. */
  of: keyof typeof NAMES
  /** Said where nothing is there, whatever was looked for. */
  empty: string
  /** What to do where nothing matches. */
  hint?: string
  /** Whether nothing is there at all; the list's own total tells otherwise. */
  bare?: boolean | undefined
}>()
const page = computed(() => props.list.page)
const words = computed({
  get: () => props.list.words,
  set: (q: string | null) => props.list.go(q ?? '', 0),
})
const number = computed({
  get: () => props.list.number,
  set: (to) => props.list.go(words.value, to),
})

const bare = computed(() => props.bare ?? (page.value?.total === 0 && !words.value))
const names = computed(() => NAMES[props.of])
const none = computed(() =>
  words.value ? `No ${names.value[0]} matches “${words.value}”.` : `No ${names.value[0]} matches.`,
)
</script>

<template>
  <div class="find no-print">
    <SearchField v-model="words" :label="search" />
    <slot name="choice" />
  </div>
  <p v-if="list.trouble" class="trouble" role="alert">{{ list.trouble }}</p>
  <p v-if="!page && !list.trouble" class="quiet" role="status">{{ SAY.common.loading }}</p>
  <UnreadableNotice v-if="page" :rows="page.unreadable" :what="names[2]" />
  <p v-if="bare" class="empty" role="status">{{ empty }}</p>
  <p v-else-if="page && !page.total" class="empty" role="status">
    {{ none }} {{ hint ?? SAY.lists.tryFewerWords }}
  </p>
  <slot v-if="page?.total" />
  <ListPager
    v-if="page"
    v-model="number"
    :pages="list.pages"
    :total="page.total"
    :what="page.total === 1 ? names[0] : names[1]"
  />
</template>

<style scoped>
.find {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 18px;
  align-items: center;
  margin: 14px 0 10px;
}
.empty {
  padding: 20px 8px;
  font-size: 18px;
}
.trouble {
  margin: 16px 0;
  padding: 12px 16px;
  border-left: 6px solid var(--plum);
  background: var(--panel);
}
</style>
