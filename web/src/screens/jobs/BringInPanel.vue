<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { computed, ref, shallowRef, watch } from 'vue'
import { ApiError, api, type MachineView } from '../../api/client'
import MachineChoice from '../../lists/MachineChoice.vue'
import { usePerson } from '../usePerson'
import { SAY } from '../../words/say'

const emit = defineEmits<{ opened: [id: string] }>()

const { person } = usePerson()
const machine = shallowRef<MachineView>()
const revision = computed(() => machine.value?.revision_id)
const text = ref('')
const trouble = ref<ApiError>()
const busy = ref(false)
/** One id for the panel: sent twice, it is brought in once. */
const id = uuid()

async function choose(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  text.value = await file.text()
}

// The story says which machine it is of.
watch(text, async (story) => {
  const named = /"machine"\s*:\s*"([^"]{1,200})"/.exec(story)?.[1]
  if (!named) return
  try {
    const found = (await api.machines({ q: named })).machines
    machine.value = found.find((m) => `${m.make} ${m.model}` === named) ?? machine.value
  } catch (error) {
    if (error instanceof ApiError) trouble.value = error
  }
})

async function bringIn() {
  if (!revision.value) return
  busy.value = true
  try {
    await api.bringIn({ id, revision_id: revision.value, text: text.value, by: person.value })
    emit('opened', id)
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="panel" :aria-label="SAY.jobs.importJob" @submit.prevent="bringIn">
    <label class="file"
      >{{ SAY.jobs.anExportedJobJsonOr }}
      <input type="file" accept=".json,.csv,application/json,text/csv" @change="choose" />
    </label>
    <v-textarea
      v-model="text"
      :label="SAY.common.orPasteItHere"
      rows="3"
      :error-messages="trouble?.field('text')"
    />
    <MachineChoice v-model="machine" first @trouble="trouble = $event" />
    <p v-if="trouble && !trouble.problem?.errors?.length" class="trouble" role="alert">
      {{ trouble.message }} What you chose is kept.
    </p>
    <v-btn type="submit" class="strong" :disabled="busy || !revision || !text.trim()">{{
      SAY.common.import
    }}</v-btn>
  </form>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 14px;
  margin: 16px 0;
  padding: 18px;
  border: 2px solid var(--ink);
  border-radius: 12px;
  background: var(--panel);
}
.file input {
  min-height: 44px;
  margin-left: 12px;
}
.trouble {
  color: var(--plum);
}
</style>
