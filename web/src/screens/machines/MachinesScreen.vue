<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, type MachineSummary } from '../../api/client'
import ListPager from '../../lists/ListPager.vue'
import SearchField from '../../lists/SearchField.vue'
import UnreadableNotice from '../../lists/UnreadableNotice.vue'
import { usePagedList } from '../../lists/usePagedList'
import { day } from '../../words/numbers'
import TopBar from '../TopBar.vue'
import ImportPanel from './ImportPanel.vue'
import { SAY } from '../../words/say'

const router = useRouter()
const importing = ref(false)
const { page, words, number, pages, trouble, load } = usePagedList(api.machines)
onMounted(load)
const machines = computed(() => page.value?.machines)

function history(m: MachineSummary): string {
  if (!m.jobs) return 'No job yet'
  return `${m.jobs} ${m.jobs === 1 ? 'job' : 'jobs'}, last ${day(m.last_job_at!)}`
}
</script>

<template>
  <TopBar
    ><span class="quiet">{{ SAY.machines.machineLibrary }}</span></TopBar
  >
  <main>
    <div class="head">
      <h1>{{ SAY.common.machines }}</h1>
      <SearchField v-model="words" :label="SAY.machines.searchMakeModelKindNotes" />
      <v-btn :aria-expanded="importing" @click="importing = !importing">
        {{ importing ? SAY.common.cancel : SAY.machines.importMachine }}
      </v-btn>
    </div>
    <ImportPanel v-if="importing" @kept="(name) => router.push(`/machines/${name}`)" />
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <p v-if="!machines && !trouble" class="quiet" role="status">{{ SAY.common.loading }}</p>
    <UnreadableNotice v-if="page" :rows="page.unreadable" :what="SAY.machines.ofTheseMachines" />
    <p v-if="page && !page.total && !words" class="empty">
      {{ SAY.machines.noMachinesYetImportA }}
    </p>
    <p v-else-if="page && !page.total" class="empty" role="status">
      No machine matches “{{ words }}”. Try fewer words.
    </p>
    <ul v-if="machines?.length" :aria-label="SAY.common.machines">
      <li v-for="m in machines" :key="m.name">
        <router-link :to="`/machines/${m.name}`">
          <span class="name"
            ><b>{{ m.make }} {{ m.model }}</b
            ><small>{{ m.family }}{{ m.years ? `, ${m.years}` : '' }}</small></span
          >
          <span class="notes"
            >{{ m.notes[0]
            }}<strong v-if="m.found.length" class="changed"
              >Not as built: {{ m.found[0]!.note }}</strong
            ></span
          >
          <span class="stand"
            >{{ history(m)
            }}<small>{{ m.wires }} wires, {{ m.source }}, revision {{ m.revision }}</small></span
          >
        </router-link>
      </li>
    </ul>
    <ListPager
      v-if="page"
      v-model="number"
      :pages="pages"
      :total="page.total"
      :what="SAY.machines.machines"
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
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 20px;
  align-items: center;
  margin-bottom: 14px;
}
h1 {
  font-size: 30px;
  margin: 0;
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
  grid-template-columns: minmax(210px, 1fr) 2.2fr 210px;
  gap: 4px 18px;
  align-items: baseline;
  padding: 12px 8px;
  color: var(--ink);
  text-decoration: none;
  font-size: 17px;
}
a:hover {
  background: var(--well);
}
.name {
  font-size: 19px;
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
  display: block;
  color: var(--ochre);
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
    grid-template-columns: 1fr 110px;
  }
  .notes {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
