<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ApiError, api, type MachineView } from '../../api/client'
import TopBar from '../TopBar.vue'
import ImportPanel from './ImportPanel.vue'

const route = useRoute()
const router = useRouter()
const machines = ref<MachineView[]>()
const trouble = ref('')
const importing = ref(false)
const wanted = computed({
  get: () => String(route.query.q ?? ''),
  set: (q) => void router.replace({ query: q ? { q } : {} }),
})

async function load() {
  try {
    machines.value = await api.machines()
    trouble.value = ''
  } catch (error) {
    trouble.value = error instanceof ApiError ? error.message : String(error)
    if (error instanceof ApiError && error.passing) window.setTimeout(load, 2000)
  }
}
onMounted(load)

/** Every word of the search stands somewhere in what is known of the machine. */
const found = computed(() => {
  const words = wanted.value.toLowerCase().split(/\s+/).filter(Boolean)
  return machines.value?.filter((m) => {
    const said = [m.make, m.model, m.family, m.years, m.source, ...m.notes].join(' ').toLowerCase()
    return words.every((w) => said.includes(w))
  })
})
</script>

<template>
  <TopBar><span class="quiet">Machine library</span></TopBar>
  <main>
    <div class="head">
      <h1>Machines</h1>
      <v-text-field
        v-model="wanted"
        class="search"
        type="search"
        label="Search make, model, kind, notes"
        density="comfortable"
        clearable
        @click:clear="wanted = ''"
      />
      <v-btn :aria-expanded="importing" @click="importing = !importing">
        {{ importing ? 'Cancel' : 'Take in a document' }}
      </v-btn>
    </div>
    <ImportPanel v-if="importing" @kept="(name) => router.push(`/machines/${name}`)" />
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }} Trying again.</p>
    <p v-if="!machines && !trouble" class="quiet" role="status">Reading the library.</p>
    <p v-if="machines && !machines.length" class="empty">
      The library is empty. Take in a machine document to begin.
    </p>
    <p v-else-if="found && !found.length" class="empty" role="status">
      No machine says “{{ wanted }}”. Fewer words may find it.
    </p>
    <ul v-if="found?.length" aria-label="Machines">
      <li v-for="m in found" :key="m.name">
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
            >{{ m.wires }} wires<small>{{ m.source }}, revision {{ m.revision }}</small></span
          >
        </router-link>
      </li>
    </ul>
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
.search {
  flex: 1 1 260px;
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
  grid-template-columns: minmax(210px, 1fr) 2.4fr 150px;
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
