<script setup lang="ts">
import { computed, ref } from 'vue'
import type { JobView, Observed, Work } from '../../../api/client'
import { WORKS } from '../../../words/doubts'
import { capital } from '../../../words/units'
import { SAY } from '../../../words/say'
import SaidPanel from './SaidPanel.vue'

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
  <SaidPanel
    class="before"
    :aria-label="SAY.job.beforeThisJob"
    :title="SAY.job.pastRepairsAndByWhom"
    @close="emit('close')"
  >
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
  </SaidPanel>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.line > :first-child {
  flex: 1 1 260px;
}
</style>
