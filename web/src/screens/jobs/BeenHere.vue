<script setup lang="ts">
import { onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { ApiError, api, type JobSummary, type MachineView } from '../../api/client'
import { day } from '../../words/numbers'
import { list, unitName } from '../../words/units'
import { SAY } from '../../words/say'

/** Machines that were in the shop before, the last ones first, or found by tag, owner or serial; with
 * what was wrong then. */
const emit = defineEmits<{ machine: [machine: MachineView, before: JobSummary] }>()

const typed = ref('')
const found = shallowRef<JobSummary[]>([])
const trouble = ref('')
/** What was looked for and is in no job. */
const nowhere = ref('')
/** A keyboard at hand starts here; a phone's would cover the form. */
const field = useTemplateRef<{ focus: () => void }>('field')
onMounted(() => window.matchMedia('(pointer: coarse)').matches || field.value?.focus())
let timer = 0
let asked = 0

onMounted(() => look())
watch(typed, () => {
  window.clearTimeout(timer)
  timer = window.setTimeout(() => void look(), 250)
})

async function look() {
  const mine = ++asked
  const q = typed.value.trim()
  try {
    const { jobs } = await api.jobs({ q })
    // Of one machine the last job.
    const key = (j: JobSummary) => [j.make, j.model, j.tag, j.serial].join('|')
    const last = new Map(jobs.toReversed().map((j) => [key(j), j]))
    if (mine !== asked) return
    found.value = [...last.values()].toReversed().slice(0, q ? 5 : 3)
    nowhere.value = found.value.length ? '' : q
    trouble.value = ''
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
  }
}

async function pick(job: JobSummary) {
  try {
    const { machines } = await api.machines({ q: `${job.make} ${job.model}` })
    const machine = machines.find((m) => m.make === job.make && m.model === job.model)
    if (!machine) {
      trouble.value = `The ${job.make} ${job.model} is no longer among the machines. Pick one below.`
      return
    }
    emit('machine', machine, job)
    typed.value = ''
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
  }
}

/** Which one it is, as far as was said. */
function called(job: JobSummary): string {
  const own = [job.tag, job.owner].filter(Boolean).join(', ') || job.serial
  return [own, `${job.make} ${job.model}`].filter(Boolean).join(' · ')
}

function before(job: JobSummary): string {
  const units = job.verdict?.units.filter((u) => u.kind !== 'nothing').map(unitName) ?? []
  const was = units.length ? list(units, 'or') : job.complaint
  return `${day(job.opened_at)}: ${was}`
}
</script>

<template>
  <div class="been">
    <v-text-field
      ref="field"
      v-model="typed"
      :label="SAY.jobs.beenHereBeforeTagOwner"
      type="search"
      autocomplete="off"
      :error-messages="trouble"
      :hint="nowhere && SAY.jobs.notHereBefore"
      persistent-hint
      hide-details="auto"
    />
    <v-btn v-for="job in found" :key="job.id" height="auto" @click="pick(job)">
      <span
        >{{ called(job) }}<small>{{ before(job) }}</small></span
      >
    </v-btn>
  </div>
</template>

<style scoped>
.been {
  display: grid;
  gap: 8px;
}
.been :deep(.v-btn) {
  justify-content: start;
  min-height: 56px;
  padding-block: 8px;
}
.been :deep(.v-btn__content) {
  text-align: left;
  white-space: normal;
}
.been :deep(.v-messages) {
  font-size: 14px;
}
small {
  display: block;
  font-size: 14px;
  font-weight: 400;
}
</style>
