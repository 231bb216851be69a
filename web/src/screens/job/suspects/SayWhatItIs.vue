<script setup lang="ts">
import { computed, ref } from 'vue'
import type { JobView } from '../../../api/client'
import { capital, unitName } from '../../../words/units'
import { SAY } from '../../../words/say'

/** The mechanic knows, or gives up: the fault by hand, with the reason. */
const props = defineProps<{ job: JobView; busy: boolean }>()
const emit = defineEmits<{ keep: [units: string[], note: string] }>()

const open = ref(false)
const unit = ref<string>()
const reason = ref('')
const units = computed(() =>
  props.job.repairs
    .map((r) => ({ value: r.unit.id, title: capital(unitName(r.unit)) }))
    .sort((a, b) => a.title.localeCompare(b.title)),
)
</script>

<template>
  <div class="own">
    <v-btn size="small" :aria-expanded="open" @click="open = !open">{{
      SAY.job.iKnowWhatItIs
    }}</v-btn>
    <form v-if="open" @submit.prevent="unit && emit('keep', [unit], reason)">
      <v-autocomplete v-model="unit" :items="units" :label="SAY.job.partOrWire" hide-details />
      <v-text-field v-model="reason" :label="SAY.job.howYouKnow" hide-details />
      <div class="row">
        <v-btn type="submit" class="strong" :disabled="busy || !unit || !reason.trim()">{{
          SAY.job.thatsIt
        }}</v-btn>
        <v-btn
          :disabled="busy"
          @click="emit('keep', ['nothing'], reason || 'Nothing found. It would not act up.')"
          >{{ SAY.job.nothingFound }}</v-btn
        >
      </div>
    </form>
  </div>
</template>

<style scoped>
form {
  display: grid;
  gap: 8px;
  margin-top: 8px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
