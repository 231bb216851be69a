<script setup lang="ts">
import { computed, ref } from 'vue'
import {
  ApiError,
  api,
  profileAddress,
  type ProfileView,
  type Subject,
  type SwitchKind,
} from '../../../api/client'
import SwitchBack from '../../../pictures/SwitchBack.vue'
import { FUNCTION, KIND } from '../../../words/bench'
import { usePerson } from '../../usePerson'
import { SAY } from '../../../words/say'

/** The kinds of switches that are known: shipped ones and the shop's own, out as documents and in. */
const props = defineProps<{ profiles: ProfileView[] }>()
const emit = defineEmits<{ changed: [] }>()

const { person } = usePerson()
const opened = ref<string>()
const taking = ref(false)
const text = ref('')
const trouble = ref<ApiError>()
const said = ref('')

const groups = computed(() =>
  (Object.keys(KIND) as SwitchKind[])
    .map((kind) => ({
      name: `${KIND[kind]}${kind === 'key-switch' || kind.endsWith('switch') ? 'es' : 's'}`,
      profiles: props.profiles.filter((p) => p.document.kind === kind),
    }))
    .filter((g) => g.profiles.length),
)
function made({ document: d }: ProfileView): string[] {
  return d.positions.map((p) => {
    const groups = d.made[p.id] ?? []
    return `${p.name}: ${groups.length ? groups.map((g) => g.join(' + ')).join(', ') : 'nothing joined'}`
  })
}
function terminals({ document: d }: ProfileView): string {
  return d.terminals.map((t) => `${t.id} ${FUNCTION[t.function]}`).join(', ')
}

/** A switch that is as its profile says, to be drawn. */
function subject({ document: d }: ProfileView): Subject {
  const terminals = d.terminals.map((t) => t.id)
  return { kind: d.kind, terminals, positions: d.positions, profile: d }
}

async function choose(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) text.value = await file.text()
}
async function ask(work: () => Promise<unknown>): Promise<boolean> {
  trouble.value = undefined
  said.value = ''
  try {
    await work()
    emit('changed')
    return true
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error
    return false
  }
}
async function keep() {
  if (await ask(() => api.keepProfile({ by: person.value, document: text.value }))) {
    said.value = 'The profile is kept.'
    text.value = ''
    taking.value = false
  }
}
async function forget(p: ProfileView) {
  if (await ask(() => api.forgetProfile(p.document.id))) {
    said.value = `“${p.document.name}” is out of the list. Switches tested against it keep their copy.`
  }
}
</script>

<template>
  <section :aria-label="SAY.bench.profiles">
    <div class="head">
      <h2>{{ SAY.bench.switchTypes }}</h2>
      <v-btn :aria-expanded="taking" @click="taking = !taking">{{
        taking ? SAY.common.cancel : SAY.bench.importSwitchType
      }}</v-btn>
    </div>
    <form
      v-if="taking"
      class="panel"
      :aria-label="SAY.bench.importSwitchType"
      @submit.prevent="keep"
    >
      <label
        >{{ SAY.bench.aProfileJson }}
        <input type="file" accept=".json,application/json" @change="choose"
      /></label>
      <v-textarea v-model="text" :label="SAY.common.orPasteItHere" rows="5" class="mono" />
      <v-btn type="submit" class="strong" :disabled="!text.trim()">{{ SAY.common.keepIt }}</v-btn>
    </form>
    <div v-if="trouble" class="trouble" role="alert">
      {{ trouble.message }}
      <ul v-if="(trouble.problem?.errors?.length ?? 0) > 1">
        <li v-for="e in trouble.problem?.errors ?? []" :key="e.field + e.sentence">
          <code>{{ e.field }}</code> {{ e.sentence }}
        </li>
      </ul>
      {{ SAY.bench.whatYouGaveIsKept }}
    </div>
    <p v-if="said" role="status">{{ said }}</p>
    <div v-for="g in groups" :key="g.name">
      <h3>{{ g.name }}</h3>
      <ul class="list">
        <li v-for="p in g.profiles" :key="p.document.id">
          <button
            type="button"
            :aria-expanded="opened === p.document.id"
            @click="opened = opened === p.document.id ? undefined : p.document.id"
          >
            {{ p.document.name }}<small v-if="p.kept_by"> kept by {{ p.kept_by }}</small>
          </button>
          <div v-if="opened === p.document.id" class="more">
            <SwitchBack class="back" :subject="subject(p)" :red="undefined" :black="undefined" />
            <p>{{ terminals(p) }}</p>
            <p v-for="line in made(p)" :key="line" class="mono">{{ line }}</p>
            <p v-if="p.document.amps">Rated {{ p.document.amps }} A.</p>
            <p v-if="p.document.notes">{{ p.document.notes }}</p>
            <p class="do">
              <a :href="profileAddress(p.document.id)" download>{{ SAY.bench.saveAsJson }}</a>
              <v-btn v-if="p.kept_by" size="small" height="44" @click="forget(p)">{{
                SAY.common.deleteIt
              }}</v-btn>
            </p>
          </div>
        </li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-top: 26px;
}
h2,
h3 {
  margin: 0;
  font-size: 16px;
  color: var(--quiet);
}
h3 {
  margin-top: 10px;
}
.list {
  margin: 0;
  padding: 0;
  list-style: none;
  columns: 2;
  column-gap: 28px;
}
.list li {
  break-inside: avoid;
  border-bottom: 1px solid var(--rule);
}
button:not(.v-btn) {
  width: 100%;
  min-height: 44px;
  text-align: left;
  font-size: 17px;
  line-height: 1.2;
}
small {
  color: var(--quiet);
}
.back {
  max-width: 240px;
}
.more {
  padding: 0 0 10px 12px;
  border-left: 4px solid var(--rule);
}
p {
  margin: 2px 0;
}
.do a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.do {
  display: flex;
  align-items: center;
  gap: 16px;
}
.panel {
  display: grid;
  gap: 12px;
  margin: 12px 0;
  padding: 16px;
  border: 2px solid var(--ink);
  border-radius: 12px;
  background: var(--panel);
}
.trouble {
  margin: 8px 0;
  padding-left: 12px;
  border-left: 6px solid var(--plum);
}
@media (max-width: 800px) {
  .list {
    columns: 1;
  }
}
</style>
