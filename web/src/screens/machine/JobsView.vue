<script setup lang="ts">
import { computed, onMounted } from 'vue'
import { api, type MachineDetail } from '../../api/client'
import ListPager from '../../lists/ListPager.vue'
import SearchField from '../../lists/SearchField.vue'
import UnreadableNotice from '../../lists/UnreadableNotice.vue'
import { usePagedList } from '../../lists/usePagedList'
import JobList from '../jobs/JobList.vue'
import { SAY } from '../../words/say'

/** What machines of this model were in for before, and what it was. */
const props = defineProps<{ detail: MachineDetail }>()
const { page, words, number, pages, trouble, load } = usePagedList((wanted) =>
  api.jobs({ ...wanted, machine: props.detail.name }),
)
onMounted(load)
const empty = computed(() => page.value?.total === 0)
</script>

<template>
  <section :aria-label="SAY.machine.jobsOnThisModel">
    <SearchField v-model="words" :label="SAY.machine.searchNumberTagOwnerSerial" />
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <p v-if="!page && !trouble" class="quiet" role="status">{{ SAY.common.loading }}</p>
    <UnreadableNotice v-if="page" :rows="page.unreadable" :what="SAY.common.ofTheseJobs" />
    <p v-if="empty" class="empty" role="status">
      {{ words ? `No job matches “${words}”.` : SAY.machine.noJobOnThisModel }}
    </p>
    <JobList v-else-if="page" :jobs="page.jobs" />
    <ListPager
      v-if="page && !empty"
      v-model="number"
      :pages="pages"
      :total="page.total"
      :what="page.total === 1 ? SAY.common.job : SAY.common.countedJobs"
    />
  </section>
</template>

<style scoped>
section {
  padding: 12px 20px;
  max-width: 1140px;
}
.empty {
  padding: 20px 8px;
  font-size: 18px;
}
</style>
