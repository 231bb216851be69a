<script setup lang="ts">
import { api, type MachineDetail } from '../../api/client'
import PagedList from '../../lists/PagedList.vue'
import { usePagedList } from '../../lists/usePagedList'
import JobList from '../jobs/JobList.vue'
import { SAY } from '../../words/say'

/** What machines of this model were in for before, and what it was. */
const props = defineProps<{ detail: MachineDetail }>()
const list = usePagedList((wanted) => api.jobs({ ...wanted, machine: props.detail.name }))
</script>

<template>
  <section :aria-label="SAY.machine.jobsOnThisModel">
    <PagedList
      :list="list"
      :search="SAY.machine.searchNumberTagOwnerSerial"
      of="jobs"
      :empty="SAY.machine.noJobOnThisModel"
    >
      <JobList :jobs="list.page?.jobs ?? []" />
    </PagedList>
  </section>
</template>

<style scoped>
section {
  padding: 0 20px 12px;
  max-width: 1140px;
}
</style>
