<script setup lang="ts">
import { ref } from 'vue'
import { ApiError, api, type CheckedDocument } from '../../api/client'
import { SAY } from '../../words/say'
import { usePerson } from '../usePerson'

const emit = defineEmits<{ kept: [name: string] }>()

const { person } = usePerson()
const text = ref('')
const checked = ref<CheckedDocument>()
const trouble = ref<ApiError>()
const busy = ref(false)

async function take(chosen: File | File[] | null | undefined) {
  const [file] = [chosen ?? []].flat()
  if (!file) return
  text.value = await file.text()
  await check()
}

/** Runs a request on the document as it stands; what is wrong is shown, what was typed stays. */
async function ask<T>(request: (text: string) => Promise<T>): Promise<T | undefined> {
  busy.value = true
  trouble.value = undefined
  try {
    return await request(text.value)
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error
    return undefined
  } finally {
    busy.value = false
  }
}

async function check() {
  checked.value = undefined
  checked.value = await ask(api.checkMachine)
}

async function keep() {
  const kept = await ask((text) => api.saveMachine(text, { by: person.value }))
  if (kept) emit('kept', kept.name)
}
</script>

<template>
  <section class="panel" :aria-label="SAY.machines.importMachine">
    <p>
      {{ SAY.machines.aMachineDocumentIsJson }}
      <code>docs/machine-format.md</code>. Nothing is kept until all of it is right.
    </p>
    <v-file-input
      :label="SAY.machines.chooseAFile"
      accept=".json,application/json"
      prepend-icon=""
      variant="outlined"
      rounded="lg"
      density="comfortable"
      hide-details
      @update:model-value="take"
    />
    <v-textarea
      v-model="text"
      :label="SAY.machines.orPasteItHere"
      rows="7"
      spellcheck="false"
      class="mono"
      @update:model-value="checked = undefined"
    />
    <div v-if="trouble" class="trouble" role="alert">
      <p>{{ trouble.message }} Nothing was kept.</p>
      <ol v-if="trouble.problem?.errors?.length">
        <li v-for="(e, i) in trouble.problem.errors" :key="i">
          {{ e.sentence }} <code v-if="e.field" class="mono">{{ e.field }}</code>
        </li>
      </ol>
    </div>
    <div v-if="checked" class="sound" role="status">
      <p>
        <b>{{ checked.make }} {{ checked.model }}</b
        >: {{ checked.parts }} parts, {{ checked.wires }} wires, {{ checked.duties }} safety checks,
        all good. It becomes revision {{ checked.revision }}.
      </p>
      <ul v-if="checked.warnings.length">
        <li v-for="(w, i) in checked.warnings" :key="i">
          {{ w.sentence }} <code class="mono">{{ w.field }}</code>
        </li>
      </ul>
    </div>
    <div class="actions">
      <v-btn :class="{ strong: !checked }" :disabled="!text.trim() || busy" @click="check">{{
        SAY.machines.checkIt
      }}</v-btn>
      <v-btn :class="{ strong: !!checked }" :disabled="!checked || busy" @click="keep">{{
        SAY.common.keepIt
      }}</v-btn>
    </div>
  </section>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 12px;
  margin-bottom: 20px;
  padding: 16px;
  background: var(--panel);
  border: 1px solid var(--rule);
  border-radius: 12px;
}
p {
  margin: 0;
  font-size: 17px;
}
.trouble {
  padding: 10px 14px;
  border-left: 8px solid var(--plum);
}
.sound {
  padding: 10px 14px;
  border-left: 8px solid var(--moss);
}
ol,
ul {
  margin: 6px 0 0;
  padding-left: 24px;
}
li {
  margin: 4px 0;
}
code {
  font-size: 14px;
  color: var(--quiet);
}
.actions {
  display: flex;
  gap: 12px;
}
</style>
