<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { ApiError, api, type JobSummary } from '../../api/client'
import { clock, day } from '../../words/numbers'
import { capital, list, unitName } from '../../words/units'
import TopBar from '../TopBar.vue'
import BringInPanel from './BringInPanel.vue'
import NewJobPanel from './NewJobPanel.vue'

const router = useRouter()
const jobs = ref<JobSummary[]>()
const trouble = ref('')
const opening = ref<'new' | 'story'>()

async function load() {
  try {
    jobs.value = await api.jobs()
    trouble.value = ''
  } catch (error) {
    trouble.value = error instanceof ApiError ? error.message : String(error)
    if (error instanceof ApiError && error.passing) window.setTimeout(load, 2000)
  }
}
onMounted(load)

const groups = computed(() => [
  { name: 'Open jobs', jobs: jobs.value?.filter((j) => j.status === 'open') ?? [] },
  { name: 'Closed', jobs: jobs.value?.filter((j) => j.status === 'closed') ?? [] },
])

function stand(job: JobSummary): string {
  if (job.verdict) return `Verdict: ${list(job.verdict.units.map(unitName), 'or')}`
  if (job.readings === 0) return job.last_at ? 'Heard, nothing measured yet' : 'Not started'
  return `${job.readings} reading${job.readings === 1 ? '' : 's'}, no verdict yet`
}
</script>

<template>
  <TopBar>
    <span class="quiet">Workshop</span>
  </TopBar>
  <main>
    <div class="head">
      <h1>Jobs</h1>
      <span class="do">
        <v-btn v-if="!opening" aria-expanded="false" @click="opening = 'story'"
          >Bring a story in</v-btn
        >
        <v-btn
          :class="{ strong: !opening }"
          :aria-expanded="!!opening"
          @click="opening = opening ? undefined : 'new'"
        >
          {{ opening ? 'Cancel' : 'New job' }}
        </v-btn>
      </span>
    </div>
    <NewJobPanel v-if="opening === 'new'" @opened="(id) => router.push(`/jobs/${id}`)" />
    <BringInPanel v-if="opening === 'story'" @opened="(id) => router.push(`/jobs/${id}`)" />
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }} Trying again.</p>
    <p v-if="!jobs && !trouble" class="quiet" role="status">Reading the job book.</p>
    <template v-for="group in groups" :key="group.name">
      <section
        v-if="jobs && (group.jobs.length || group.name === 'Open jobs')"
        :aria-label="group.name"
      >
        <h2>{{ group.name }}</h2>
        <p v-if="!group.jobs.length" class="empty">
          No job is open. Start one with “New job”: pick the machine and write down what it does.
        </p>
        <ul>
          <li v-for="job in group.jobs" :key="job.id">
            <router-link :to="`/jobs/${job.id}`">
              <span class="number mono">{{ job.number }}</span>
              <span class="machine"
                ><b>{{ job.make }} {{ job.model }}</b
                ><small>{{ job.tag }}</small
                ><small v-if="job.found.length" class="changed">Not as built</small></span
              >
              <span class="complaint"
                >{{ job.complaint }}<small>{{ job.owner }}</small></span
              >
              <span class="stand"
                >{{ capital(stand(job))
                }}<small
                  >since {{ day(job.opened_at)
                  }}<template v-if="job.last_at"
                    >, last entry {{ clock(job.last_at) }}</template
                  ></small
                ></span
              >
            </router-link>
          </li>
        </ul>
      </section>
    </template>
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
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 2px solid var(--ink);
}
li {
  border-bottom: 1px solid var(--rule);
}
a {
  display: grid;
  grid-template-columns: 44px minmax(170px, 1fr) 2fr minmax(190px, 1.1fr);
  gap: 4px 18px;
  align-items: baseline;
  padding: 14px 8px;
  color: var(--ink);
  text-decoration: none;
  font-size: 18px;
}
a:hover {
  background: var(--well);
}
.number {
  font-size: 24px;
  font-weight: 700;
  color: var(--ember);
}
small {
  display: block;
  font-size: 15px;
  color: var(--quiet);
}
a:hover small {
  color: var(--ink);
}
.changed {
  font-weight: 700;
  color: var(--ochre);
}
.complaint {
  font-size: 20px;
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
@media (max-width: 900px) {
  a {
    grid-template-columns: 44px 1fr 1fr;
  }
  .complaint {
    grid-column: 2 / -1;
    grid-row: 1;
  }
  .machine {
    grid-column: 2;
  }
}
</style>
