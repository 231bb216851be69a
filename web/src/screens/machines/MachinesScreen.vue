<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, type MachineSummary } from '../../api/client'
import ListScreen from '../../lists/ListScreen.vue'
import PagedList from '../../lists/PagedList.vue'
import RowList from '../../lists/RowList.vue'
import { usePagedList } from '../../lists/usePagedList'
import { day } from '../../words/numbers'
import ImportPanel from './ImportPanel.vue'
import { SAY } from '../../words/say'

const router = useRouter()
const importing = ref(false)
const list = usePagedList(api.machines)

function history(m: MachineSummary): string {
  if (!m.jobs) return 'No job yet'
  return `${m.jobs} ${m.jobs === 1 ? 'job' : 'jobs'}, last ${day(m.last_job_at!)}`
}
</script>

<template>
  <ListScreen :title="SAY.common.machines" :place="SAY.machines.machineLibrary">
    <template #do>
      <v-btn class="strong" to="/describe">{{ SAY.machines.describeMachine }}</v-btn>
      <v-btn :aria-expanded="importing" @click="importing = !importing">
        {{ importing ? SAY.common.cancel : SAY.machines.importMachine }}
      </v-btn>
    </template>
    <ImportPanel v-if="importing" @kept="(name) => router.push(`/machines/${name}`)" />
    <PagedList
      :list="list"
      :search="SAY.machines.searchMakeModelKindNotes"
      of="machines"
      :empty="SAY.machines.noMachinesYetImportA"
    >
      <RowList
        v-slot="{ row: m }"
        class="machines"
        :aria-label="SAY.common.machines"
        :rows="list.page?.machines ?? []"
        :to="(m) => `/machines/${m.name}`"
      >
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
        <span
          >{{ history(m)
          }}<small>{{ m.wires }} wires, {{ m.source }}, revision {{ m.revision }}</small></span
        >
      </RowList>
    </PagedList>
  </ListScreen>
</template>

<style scoped>
.machines :deep(a) {
  grid-template-columns: minmax(210px, 1fr) 2.2fr 210px;
  font-size: 17px;
}
.name {
  font-size: 19px;
}
.changed {
  display: block;
  color: var(--ochre);
}
@media (max-width: 900px) {
  .machines :deep(a) {
    grid-template-columns: 1fr 110px;
  }
  .notes {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
