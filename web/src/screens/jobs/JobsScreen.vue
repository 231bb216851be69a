<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../../api/client'
import ListPager from '../../lists/ListPager.vue'
import SearchField from '../../lists/SearchField.vue'
import UnreadableNotice from '../../lists/UnreadableNotice.vue'
import { usePagedList } from '../../lists/usePagedList'
import TopBar from '../TopBar.vue'
import BringInPanel from './BringInPanel.vue'
import JobList from './JobList.vue'
import NewJobPanel from './NewJobPanel.vue'
import { SAY } from '../../words/say'

const router = useRouter()
const route = useRoute()
const opening = ref<'new' | 'story'>()

/** Which jobs are wanted; in the address, like the words. */
type Group = 'all' | 'open' | 'closed'
const GROUPS: { id: Group; title: string }[] = [
  { id: 'all', title: 'All' },
  { id: 'open', title: 'Open' },
  { id: 'closed', title: 'Closed' },
]
const group = computed<Group>({
  get: () => GROUPS.find((g) => g.id === route.query.show)?.id ?? 'all',
  set: (show) => void router.replace({ query: { q: route.query.q, show } }),
})
const { page, words, number, pages, trouble, load } = usePagedList((wanted) =>
  api.jobs({ ...wanted, status: group.value === 'all' ? undefined : group.value }),
)
onMounted(load)
watch(group, () => void load())

const jobs = computed(() => page.value?.jobs)
const sections = computed(() => [
  { name: 'Open jobs', jobs: jobs.value?.filter((j) => j.status === 'open') ?? [] },
  { name: 'Closed', jobs: jobs.value?.filter((j) => j.status === 'closed') ?? [] },
])
/** No job is there at all, or none that is open. */
const empty = computed(
  () => page.value && !words.value && !page.value.open && group.value !== 'closed' && !number.value,
)
</script>

<template>
  <TopBar>
    <span class="quiet">{{ SAY.common.workshop }}</span>
  </TopBar>
  <main>
    <div class="head">
      <h1>{{ SAY.common.jobs }}</h1>
      <span class="do">
        <v-btn v-if="!opening" aria-expanded="false" @click="opening = 'story'">{{
          SAY.jobs.importJob
        }}</v-btn>
        <v-btn
          :class="{ strong: !opening }"
          :aria-expanded="!!opening"
          @click="opening = opening ? undefined : 'new'"
        >
          {{ opening ? SAY.common.cancel : SAY.jobs.newJob }}
        </v-btn>
      </span>
    </div>
    <NewJobPanel v-if="opening === 'new'" @opened="(id) => router.push(`/jobs/${id}`)" />
    <BringInPanel v-if="opening === 'story'" @opened="(id) => router.push(`/jobs/${id}`)" />
    <div class="find no-print">
      <SearchField v-model="words" :label="SAY.jobs.searchNumberTagOwnerSerial" />
      <div class="groups" role="group" :aria-label="SAY.jobs.whichJobs">
        <button
          v-for="g in GROUPS"
          :key="g.id"
          type="button"
          :aria-pressed="group === g.id"
          @click="group = g.id"
        >
          {{ g.title
          }}<template v-if="g.id === 'open' && page"
            >&nbsp;<b class="mono">{{ page.open }}</b></template
          >
        </button>
      </div>
    </div>
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <p v-if="!jobs && !trouble" class="quiet" role="status">{{ SAY.common.loading }}</p>
    <UnreadableNotice v-if="page" :rows="page.unreadable" :what="SAY.common.ofTheseJobs" />
    <p v-if="empty" class="empty">
      {{ SAY.jobs.noJobIsOpenStart }}
    </p>
    <p v-else-if="page && !page.total" class="empty" role="status">
      No job matches{{ words ? ` “${words}”` : '' }}.
      {{ group === 'all' ? SAY.jobs.tryFewerWords : SAY.jobs.tryFewerWordsOrLook }}
    </p>
    <template v-for="section in sections" :key="section.name">
      <section v-if="section.jobs.length" :aria-label="section.name">
        <h2>{{ section.name }}</h2>
        <JobList :jobs="section.jobs" />
      </section>
    </template>
    <ListPager
      v-if="page"
      v-model="number"
      :pages="pages"
      :total="page.total"
      :what="page.total === 1 ? SAY.common.job : SAY.common.countedJobs"
    />
  </main>
</template>

<style scoped>
main {
  max-width: 1100px;
  width: 100%;
  margin: 0 auto;
  padding: 20px;
}
.do {
  display: flex;
  gap: 8px;
}
.find {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 18px;
  align-items: center;
  margin-top: 14px;
}
.groups {
  display: flex;
  border: 2px solid var(--ink);
  border-radius: 10px;
  overflow: hidden;
}
.groups button {
  min-height: 44px;
  padding: 0 16px;
  font-size: 17px;
}
.groups button + button {
  border-left: 1px solid var(--rule);
}
.groups button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
.groups button:focus-visible {
  outline-offset: -4px;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
h1 {
  font-size: 30px;
  margin: 0;
}
h2 {
  font-size: 16px;
  margin: 22px 0 6px;
  color: var(--quiet);
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
