<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, type BenchView, type JobSummary } from '../../../api/client'
import { capital } from '../../../words/units'
import { LINKAGE_BAD, VERDICT, resultNote } from '../../../words/bench'
import { SAY } from '../../../words/say'

/** What is to be said of the switch now, and what becomes of it. */
const props = defineProps<{ view: BenchView; open: boolean }>()
const emit = defineEmits<{
  attach: [job: string, note: string]
  status: [status: 'open' | 'closed']
  back: []
}>()

const jobs = ref<JobSummary[]>()
const job = ref<string>()
const handing = ref(false)
const MARKS: { [v in BenchView['verdict']]: string } = {
  sound: '✓',
  bad: '✕',
  unfinished: '…',
  'kind-unknown': '?',
}
const count = computed(() => props.view.findings.length)
const words = computed(() => {
  const base = VERDICT[props.view.verdict]
  return count.value
    ? `${base}: ${count.value} ${count.value === 1 ? 'thing' : 'things'} wrong`
    : base
})

async function hand() {
  handing.value = !handing.value
  if (!handing.value) return
  const all = (await api.jobs({ status: 'open' }).catch(() => undefined))?.jobs ?? []
  const own = props.view.machine?.machine
  jobs.value = all.filter((j) => j.status === 'open' && (!own || `${j.make} ${j.model}` === own))
  job.value = jobs.value[0]?.id
}
const items = computed(() =>
  (jobs.value ?? []).map((j) => ({
    title: `${j.number}: ${j.make} ${j.model}, ${j.tag || j.owner}`,
    value: j.id,
  })),
)
</script>

<template>
  <div class="strip">
    <p class="verdict" :class="view.verdict" role="status">
      <b aria-hidden="true">{{ MARKS[view.verdict] }}</b> {{ words }}
    </p>
    <p v-if="LINKAGE_BAD[view.linkage]" class="verdict bad">
      <b aria-hidden="true">✕</b> {{ capital(LINKAGE_BAD[view.linkage] ?? '') }}
    </p>
    <div class="do no-print">
      <v-btn v-if="open" :disabled="!view.log.length" @click="emit('back')"
        ><kbd>u</kbd>&nbsp;Undo</v-btn
      >
      <v-btn v-if="open" :aria-expanded="handing" :disabled="!view.log.length" @click="hand">{{
        handing ? SAY.common.cancel : SAY.bench.sendToJob
      }}</v-btn>
      <v-btn v-if="open" @click="emit('status', 'closed')">{{ SAY.bench.closeTest }}</v-btn>
      <v-btn v-if="!open && !view.job_id" @click="emit('status', 'open')">{{
        SAY.common.openAgain
      }}</v-btn>
      <v-btn v-if="view.job_id" :to="`/jobs/${view.job_id}`">{{ SAY.bench.toItsJob }}</v-btn>
    </div>
    <form
      v-if="handing && open"
      class="hand no-print"
      :aria-label="SAY.bench.sendToJob"
      @submit.prevent="job && emit('attach', job, resultNote(view))"
    >
      <template v-if="items.length">
        <v-select v-model="job" :items="items" :label="SAY.bench.job" />
        <p>
          {{
            view.new_part
              ? SAY.bench.aNoteGoesIntoThe
              : view.machine?.unplugs
                ? SAY.bench.everyReadingGoesIntoThe
                : SAY.bench.readingsStayHere
          }}
          This closes the test.
        </p>
        <v-btn type="submit" class="strong">{{ SAY.bench.sendIt }}</v-btn>
      </template>
      <p v-else>No job is open{{ view.machine ? ` on a ${view.machine.machine}` : '' }}.</p>
    </form>
  </div>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
}
p {
  margin: 0;
}
.verdict {
  padding: 4px 14px;
  border: 3px dotted var(--dead);
  border-radius: 10px;
  font-size: 20px;
  font-weight: 700;
}
.sound {
  border: 3px solid var(--moss);
  color: var(--moss);
}
.bad {
  border: 3px double var(--plum);
  color: var(--plum);
}
.do {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.hand {
  display: grid;
  grid-template-columns: minmax(260px, 1fr) 2fr auto;
  align-items: center;
  gap: 12px;
  flex-basis: 100%;
  padding: 10px 14px;
  border: 2px solid var(--ink);
  border-radius: 12px;
  background: var(--panel);
}
@media (max-width: 900px) {
  .hand {
    grid-template-columns: 1fr;
  }
}
</style>
