<script setup lang="ts">
import { ref } from 'vue'
import { ApiError, api, type BenchView, type ProfileDocument } from '../../../api/client'
import { FUNCTION } from '../../../words/bench'
import { usePerson } from '../../usePerson'
import { SAY } from '../../../words/say'

/** What was found, kept as a profile of the shop's own. */
const props = defineProps<{ view: BenchView }>()
const { person } = usePerson()
const draft = ref<ProfileDocument>()
const said = ref('')
const trouble = ref<ApiError>()
const functions = Object.entries(FUNCTION).map(([value, title]) => ({ value, title }))
const IGNITIONS = [
  { title: 'for a magneto', value: 'magneto' },
  { title: 'for a battery coil or fuel solenoid', value: 'battery-coil' },
]

async function ask<T>(work: () => Promise<T>): Promise<T | undefined> {
  trouble.value = undefined
  said.value = ''
  try {
    return await work()
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error
    return undefined
  }
}
async function begin() {
  draft.value = await ask(() => api.foundProfile(props.view.id))
}
async function keep() {
  const document = JSON.stringify(draft.value)
  const kept = await ask(() => api.keepProfile({ by: person.value, document }))
  if (!kept) return
  said.value = `Kept as “${kept.document.name}”. It is in the list of profiles.`
  draft.value = undefined
}
</script>

<template>
  <section class="panel" :aria-label="SAY.bench.keepAsAProfile">
    <h2>{{ SAY.bench.keepAsAProfile }}</h2>
    <p v-if="said" role="status">{{ said }}</p>
    <template v-if="!draft">
      <p class="quiet">
        {{ SAY.bench.onceEveryPairIsKnown }}
      </p>
      <v-btn @click="begin">{{ SAY.bench.startFromWhatYouFound }}</v-btn>
    </template>
    <form v-else @submit.prevent="keep">
      <v-text-field v-model="draft.name" :label="SAY.bench.name" />
      <v-text-field v-model="draft.id" :label="SAY.bench.idItsOwn" />
      <v-select
        v-for="t in draft.terminals"
        :key="t.id"
        v-model="t.function"
        :label="`Terminal ${t.id}`"
        :items="functions"
      />
      <v-select
        v-if="draft.kind === 'key-switch'"
        v-model="draft.ignition"
        :label="SAY.bench.keySwitch"
        :items="IGNITIONS"
        clearable
      />
      <v-text-field
        :model-value="draft.amps ?? ''"
        :label="SAY.bench.ratedInAmperesIfIt"
        inputmode="decimal"
        @update:model-value="draft.amps = Number($event) || null"
      />
      <div class="do">
        <v-btn type="submit" class="strong">{{ SAY.common.keepIt }}</v-btn>
        <v-btn @click="draft = undefined">{{ SAY.bench.leaveIt }}</v-btn>
      </div>
    </form>
    <p v-if="trouble" role="alert" class="trouble">
      {{ trouble.message }}
      <template v-for="e in trouble.problem?.errors ?? []" :key="e.field"
        >{{ e.sentence !== trouble.message ? e.sentence : '' }}
      </template>
    </p>
  </section>
</template>

<style scoped>
.panel,
form {
  display: grid;
  gap: 8px;
}
.panel {
  padding: 12px 14px;
  border-left: 4px solid var(--rule);
  background: var(--panel);
}
h2 {
  margin: 0;
  font-size: 18px;
}
p {
  margin: 0;
}
.do {
  display: flex;
  gap: 8px;
}
.trouble {
  color: var(--plum);
  font-weight: 600;
}
</style>
