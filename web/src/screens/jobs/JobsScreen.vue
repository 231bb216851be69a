<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../../api/client'
import ListScreen from '../../lists/ListScreen.vue'
import PagedList from '../../lists/PagedList.vue'
import { usePagedList } from '../../lists/usePagedList'
import BringInPanel from './BringInPanel.vue'
import JobList from './JobList.vue'
import NewJobPanel from './NewJobPanel.vue'
import { SAY } from '../../words/say'

const router = useRouter()
const route = useRoute()
/** A machine to open a job on, from where it was described. */
const on = typeof route.query.machine === 'string' ? route.query.machine : undefined
const opening = ref<'new' | 'story' | undefined>(on ? 'new' : undefined)

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
const list = usePagedList((wanted) =>
  api.jobs({ ...wanted, status: group.value === 'all' ? undefined : group.value }),
)
watch(group, () => void list.load())

const sections = computed(() => {
  const jobs = list.page?.jobs ?? []
  return [
    { name: 'Open jobs', jobs: jobs.filter((j) => j.status === 'open') },
    { name: 'Closed', jobs: jobs.filter((j) => j.status === 'closed') },
  ]
})
/** No job is there at all, or none that is open. */
const bare = computed(
  () => !!list.page && !list.words && !list.page.open && group.value !== 'closed' && !list.number,
)
</script>

<template>
  <ListScreen :title="SAY.common.jobs" :place="SAY.common.workshop">
    <template #do>
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
    </template>
    <NewJobPanel v-if="opening === 'new'" :on="on" @opened="(id) => router.push(`/jobs/${id}`)" />
    <BringInPanel v-if="opening === 'story'" @opened="(id) => router.push(`/jobs/${id}`)" />
    <PagedList
      :list="list"
      :search="SAY.jobs.searchNumberTagOwnerSerial"
      of="jobs"
      :empty="SAY.jobs.noJobIsOpenStart"
      :bare="bare"
      :hint="group === 'all' ? SAY.lists.tryFewerWords : SAY.jobs.tryFewerWordsOrLook"
    >
      <template #choice>
        <div class="groups" role="group" :aria-label="SAY.jobs.whichJobs">
          <button
            v-for="g in GROUPS"
            :key="g.id"
            type="button"
            :aria-pressed="group === g.id"
            @click="group = g.id"
          >
            {{ g.title
            }}<template v-if="g.id === 'open' && list.page"
              >&nbsp;<b class="mono">{{ list.page.open }}</b></template
            >
          </button>
        </div>
      </template>
      <template v-for="section in sections" :key="section.name">
        <section v-if="section.jobs.length" :aria-label="section.name">
          <h2>{{ section.name }}</h2>
          <JobList :jobs="section.jobs" />
        </section>
      </template>
    </PagedList>
  </ListScreen>
</template>

<style scoped>
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
h2 {
  font-size: 16px;
  margin: 22px 0 6px;
  color: var(--quiet);
}
</style>
