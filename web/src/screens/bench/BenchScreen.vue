<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, type ProfileView, type SwitchSummary } from '../../api/client'
import ListPager from '../../lists/ListPager.vue'
import SearchField from '../../lists/SearchField.vue'
import UnreadableNotice from '../../lists/UnreadableNotice.vue'
import { usePagedList } from '../../lists/usePagedList'
import { KIND, VERDICT } from '../../words/bench'
import { clock, day } from '../../words/numbers'
import TopBar from '../TopBar.vue'
import LayPanel from './lay/LayPanel.vue'
import ProfileList from './lay/ProfileList.vue'
import { SAY } from '../../words/say'

const router = useRouter()
const profiles = ref<ProfileView[]>([])
const laying = ref(false)
const { page, words, number, pages, trouble, load } = usePagedList(api.benchSwitches)
const switches = computed(() => page.value?.switches)

async function loadProfiles() {
  // What was there before stays on the page.
  profiles.value = await api.switchProfiles().catch(() => profiles.value)
}
onMounted(() => Promise.all([load(), loadProfiles()]))

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
  <TopBar
    ><span class="quiet">{{ SAY.common.workshop }}</span></TopBar
  >
  <main>
    <div class="head">
      <h1>{{ SAY.common.switchBench }}</h1>
      <v-btn :class="{ strong: !laying }" :aria-expanded="laying" @click="laying = !laying">{{
        laying ? SAY.common.cancel : SAY.bench.testASwitch
      }}</v-btn>
    </div>
    <LayPanel v-if="laying" :profiles="profiles" @laid="(id) => router.push(`/bench/${id}`)" />
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <p v-if="!switches && !trouble" class="quiet" role="status">{{ SAY.common.loading }}</p>
    <section v-if="page && switches" :aria-label="SAY.bench.switches">
      <div class="find">
        <h2>{{ SAY.bench.lastOnTheBench }}</h2>
        <SearchField v-if="words || page.total" v-model="words" :label="SAY.bench.searchSwitches" />
      </div>
      <UnreadableNotice :rows="page.unreadable" :what="SAY.bench.ofTheseSwitches" />
      <p v-if="!page.total && words" class="empty" role="status">
        No switch matches “{{ words }}”. Try fewer words.
      </p>
      <p v-else-if="!page.total" class="empty">
        {{ SAY.bench.noSwitchTestedYetStart }}
      </p>
      <ul v-else>
        <li v-for="s in switches" :key="s.id">
          <router-link :to="`/bench/${s.id}`">
            <span class="mark" :class="s.verdict" aria-hidden="true">{{
              s.probes || s.findings ? MARK[s.verdict] : '○'
            }}</span>
            <span class="name"
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
          </router-link>
        </li>
      </ul>
      <ListPager
        v-model="number"
        :pages="pages"
        :total="page.total"
        :what="SAY.bench.countedSwitches"
      />
    </section>
    <ProfileList :profiles="profiles" @changed="loadProfiles" />
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
  justify-content: space-between;
  align-items: center;
}
.find {
  display: flex;
  flex-wrap: wrap;
  gap: 0 20px;
  align-items: center;
  justify-content: space-between;
  margin: 12px 0 10px;
}
.find h2 {
  margin: 0;
}
.find .search {
  max-width: 460px;
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
  grid-template-columns: 44px minmax(220px, 2fr) 1fr minmax(150px, 0.7fr);
  gap: 4px 18px;
  align-items: center;
  padding: 10px 8px;
  color: var(--ink);
  text-decoration: none;
  font-size: 18px;
}
a:hover {
  background: var(--well);
}
a:hover small {
  color: var(--ink);
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
small {
  display: block;
  font-size: 15px;
  color: var(--quiet);
}
.empty {
  padding: 16px 8px;
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
  .when {
    grid-column: 2 / -1;
  }
}
</style>
