<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, type ProfileView, type SwitchSummary } from '../../api/client'
import ListScreen from '../../lists/ListScreen.vue'
import PagedList from '../../lists/PagedList.vue'
import RowList from '../../lists/RowList.vue'
import { usePagedList } from '../../lists/usePagedList'
import { KIND, VERDICT } from '../../words/bench'
import { clock, day } from '../../words/numbers'
import LayPanel from './lay/LayPanel.vue'
import ProfileList from './lay/ProfileList.vue'
import { SAY } from '../../words/say'

const router = useRouter()
const profiles = ref<ProfileView[]>([])
const laying = ref(false)
const list = usePagedList(api.benchSwitches)

async function loadProfiles() {
  // What was there before stays on the page.
  profiles.value = await api.switchProfiles().catch(() => profiles.value)
}
onMounted(loadProfiles)

const MARK: { [v in SwitchSummary['verdict']]: string } = {
  sound: '✓',
  bad: '✕',
  unfinished: '…',
  'kind-unknown': '?',
}
function stand(s: SwitchSummary): string {
  if (s.findings) return `${VERDICT[s.verdict]}: ${s.findings} wrong`
  return s.probes ? VERDICT[s.verdict] : 'Not begun'
}
</script>

<template>
  <ListScreen :title="SAY.common.switchBench" :place="SAY.common.workshop">
    <template #do>
      <v-btn :class="{ strong: !laying }" :aria-expanded="laying" @click="laying = !laying">{{
        laying ? SAY.common.cancel : SAY.bench.testASwitch
      }}</v-btn>
    </template>
    <LayPanel v-if="laying" :profiles="profiles" @laid="(id) => router.push(`/bench/${id}`)" />
    <section :aria-label="SAY.bench.switches">
      <PagedList
        :list="list"
        :search="SAY.bench.searchSwitches"
        of="switches"
        :empty="SAY.bench.noSwitchTestedYetStart"
      >
        <h2>{{ SAY.bench.lastOnTheBench }}</h2>
        <RowList
          v-slot="{ row: s }"
          class="switches"
          :rows="list.page?.switches ?? []"
          :to="(s) => `/bench/${s.id}`"
        >
          <span class="mark" :class="s.verdict" aria-hidden="true">{{
            s.probes || s.findings ? MARK[s.verdict] : '○'
          }}</span>
          <span
            ><b>{{ s.name }}</b
            ><small
              >{{ s.profile ?? `${KIND[s.kind]}, type not known`
              }}{{ s.new_part ? ', new part' : '' }}</small
            ></span
          >
          <span
            >{{ stand(s)
            }}<small
              >{{ s.probes }} {{ s.probes === 1 ? SAY.bench.probe : SAY.bench.probes
              }}{{
                s.job_id ? ', sent to its job' : s.status === 'closed' ? ', closed' : ''
              }}</small
            ></span
          >
          <span class="when"
            >{{ day(s.changed_at) }}, {{ clock(s.changed_at)
            }}<small>{{ s.opened_by }}</small></span
          >
        </RowList>
      </PagedList>
    </section>
    <ProfileList :profiles="profiles" @changed="loadProfiles" />
  </ListScreen>
</template>

<style scoped>
h2 {
  font-size: 16px;
  margin: 22px 0 6px;
  color: var(--quiet);
}
.switches :deep(a) {
  grid-template-columns: 44px minmax(220px, 2fr) 1fr minmax(150px, 0.7fr);
  align-items: center;
}
.mark {
  font-size: 26px;
  font-weight: 700;
  text-align: center;
}
.mark.sound {
  color: var(--moss);
}
.mark.bad {
  color: var(--plum);
}
@media (max-width: 900px) {
  .switches :deep(a) {
    grid-template-columns: 44px 1fr 1fr;
  }
  .when {
    grid-column: 2 / -1;
  }
}
</style>
