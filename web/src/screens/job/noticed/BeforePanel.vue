<script setup lang="ts">
import { computed, ref } from 'vue'
import type { JobView, Observed, Work } from '../../../api/client'
import { WORKS } from '../../../words/doubts'
import { capital } from '../../../words/units'
import { SAY } from '../../../words/say'

const props = defineProps<{ job: JobView; busy: boolean }>()
const emit = defineEmits<{ said: [observed: Observed]; close: [] }>()

const unit = ref<string>()
const note = ref('')
const parts = computed(() =>
  Object.entries(props.job.part_names)
    .map(([value, name]) => ({ value, title: capital(name) }))
    .sort((a, b) => a.title.localeCompare(b.title)),
)

function say(work: Work) {
  if (unit.value) emit('said', { kind: 'worked-on', unit: unit.value, work })
  unit.value = undefined
}

function keep() {
  if (note.value.trim()) emit('said', { kind: 'note', text: note.value.trim() })
  note.value = ''
}
</script>

<template>
  <section class="before" :aria-label="SAY.job.beforeThisJob">
    <div class="head">
      <b>{{ SAY.job.pastRepairsAndByWhom }}</b>
      <v-btn size="small" @click="emit('close')">{{ SAY.common.done }}</v-btn>
    </div>
    <div class="line">
      <v-autocomplete v-model="unit" :items="parts" :label="SAY.common.part" />
      <v-btn
        v-for="w in WORKS"
        :key="w.id"
        height="52"
        :disabled="!unit || busy"
        @click="say(w.id)"
        >{{ w.name }}</v-btn
      >
    </div>
    <form class="line" @submit.prevent="keep">
      <v-text-field v-model="note" :label="SAY.job.anythingElseWhoWasIn" autocomplete="off" />
      <v-btn type="submit" height="52" :disabled="!note.trim() || busy">{{ SAY.job.noteIt }}</v-btn>
    </form>
  </section>
</template>

<style scoped>
.before {
  display: grid;
  gap: 10px;
  padding: 12px 14px;
  border: 2px solid var(--ink);
  border-radius: 14px;
  background: var(--panel);
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.line > :first-child {
  flex: 1 1 260px;
}
</style>
