<script setup lang="ts">
import { computed, reactive, watch } from 'vue'
import { useRouter } from 'vue-router'
import ListScreen from '../../lists/ListScreen.vue'
import { SAY } from '../../words/say'
import UsualNotice from '../UsualNotice.vue'
import QuestionCard from './QuestionCard.vue'
import { useDescription } from './useDescription'

const router = useRouter()
const { view, trouble, busy, again, asked, at, behind, questions, answer, back, forget, keep } =
  useDescription()

/** What its buttons say of an answer. */
function says(q: { answer: string; choices: { id: string; says: string }[] }): string {
  return q.choices.find((c) => c.id === q.answer)?.says ?? q.answer
}

const called = reactive({ make: '', model: '' })
const kind = computed(() => {
  const first = questions.value[0]
  return first ? says(first) : ''
})
/** A name that no other machine has, until somebody gives it its own. */
watch(kind, (kind) => {
  const now = new Date().toLocaleString('en-US', {
    month: 'short',
    day: 'numeric',
    hour: 'numeric',
    minute: '2-digit',
  })
  Object.assign(called, { make: kind, model: now })
})

async function done(toJob: boolean) {
  const name = await keep(called.make.trim() || kind.value, called.model.trim() || kind.value)
  if (!name) return
  await router.push(toJob ? { path: '/', query: { machine: name } } : `/machines/${name}`)
}
</script>

<template>
  <ListScreen :title="SAY.describe.title" :place="SAY.machines.machineLibrary">
    <template #do>
      <v-btn v-if="behind.length || trouble" :disabled="busy" @click="forget">{{
        SAY.describe.startOver
      }}</v-btn>
    </template>
    <p v-if="trouble" class="trouble" role="alert">{{ trouble.sentence }}</p>
    <div class="both">
      <QuestionCard
        v-if="asked"
        :question="asked"
        :at="at"
        :of="questions.length"
        :busy="busy"
        @answer="answer"
        @back="back"
      />
      <section v-else-if="view" class="ready" :aria-label="SAY.describe.readyToUse">
        <h2>{{ SAY.describe.readyToUse }}</h2>
        <UsualNotice />
        <div v-if="view.missing.length" class="missing">
          <b>{{ SAY.describe.asDescribedNothingGuards }}</b>
          <ul>
            <li v-for="m in view.missing" :key="m">{{ m }}</li>
          </ul>
          {{ SAY.describe.lookAgain }}
        </div>
        <div class="names">
          <v-text-field v-model="called.make" :label="SAY.describe.make" hide-details />
          <v-text-field v-model="called.model" :label="SAY.describe.model" hide-details />
        </div>
        <div class="do">
          <v-btn class="strong" :disabled="busy" data-do="job" @click="done(true)">{{
            SAY.describe.startAJob
          }}</v-btn>
          <v-btn :disabled="busy" data-do="keep" @click="done(false)">{{
            SAY.common.keepIt
          }}</v-btn>
          <v-btn :disabled="busy" @click="back">{{ SAY.describe.back }}</v-btn>
        </div>
        <h3>{{ SAY.describe.howItDecides }}</h3>
        <ul class="decides">
          <li v-for="d in view.decides" :key="d">{{ d }}</li>
        </ul>
        <template v-if="view.open.length">
          <h3>{{ SAY.describe.lookingDoesntTell }}</h3>
          <dl>
            <template v-for="o in view.open" :key="o.about">
              <dt>{{ o.about }}</dt>
              <dd v-for="(way, i) in o.ways" :key="way">
                {{ way }}<small v-if="i === 0">{{ SAY.describe.usual }}</small>
              </dd>
            </template>
          </dl>
          <p>{{ SAY.describe.yourReadingsWill }}</p>
        </template>
      </section>
      <nav v-if="behind.length" class="behind" :aria-label="SAY.describe.soFar">
        <h3>{{ SAY.describe.soFar }}</h3>
        <v-btn
          v-for="q in behind"
          :key="q.id"
          class="row"
          :aria-current="q.id === again"
          @click="again = q.id"
        >
          <span>{{ q.asks }}</span>
          <b
            >{{ says(q) }}<small v-if="!q.seen">{{ SAY.describe.usual }}</small></b
          >
        </v-btn>
      </nav>
    </div>
  </ListScreen>
</template>

<style scoped>
.both {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 360px;
  gap: 20px;
  align-items: start;
  margin-top: 16px;
}
.ready {
  display: grid;
  gap: 14px;
  padding: 18px;
  background: var(--panel);
  border: 2px solid var(--moss);
  border-radius: 12px;
}
h2,
h3,
p,
ul,
dl {
  margin: 0;
}
dt {
  font-size: 17px;
  font-weight: 600;
}
dd {
  margin: 0 0 0 22px;
  font-size: 17px;
}
dd + dt {
  margin-top: 10px;
}
h2 {
  font-size: 24px;
}
h3 {
  font-size: 18px;
}
p,
li {
  font-size: 17px;
}
.trouble {
  margin-top: 12px;
  padding: 10px 14px;
  border-left: 8px solid var(--plum);
}
.missing {
  padding: 10px 14px;
  border-left: 8px solid var(--ochre);
}
.names {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
.do {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
.decides {
  padding-left: 22px;
}
.behind {
  display: grid;
  gap: 6px;
}
.row {
  height: auto !important;
  min-height: 48px;
  padding: 6px 12px !important;
  justify-content: start;
}
.row :deep(.v-btn__content) {
  display: grid;
  gap: 2px;
  justify-items: start;
  text-align: start;
  white-space: normal;
}
.row span {
  font-size: 14px;
  font-weight: 400;
}
small {
  margin-left: 6px;
  font-size: 14px;
  font-weight: 400;
  color: var(--quiet);
}
@media (max-width: 900px) {
  .both,
  .names {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
