<script setup lang="ts">
import { computed, ref } from 'vue'
import type { JobView, Observed, Work } from '../../../api/client'
import { WORKS } from '../../../words/doubts'
import { capital } from '../../../words/units'

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
  <section class="before" aria-label="Before this job">
    <div class="head">
      <b>Past repairs, and by whom?</b>
      <v-btn size="small" @click="emit('close')">Done</v-btn>
    </div>
    <div class="line">
      <v-autocomplete v-model="unit" :items="parts" label="Part" />
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
      <v-text-field
        v-model="note"
        label="Anything else: who was in there, another fault seen on the way"
        autocomplete="off"
      />
      <v-btn type="submit" height="52" :disabled="!note.trim() || busy">Note it</v-btn>
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
