<script setup lang="ts">
import { computed, ref } from 'vue'
import type { CloseUpView, JobView, Observed } from '../../../api/client'
import { closeUpAnswers, closeUpTitle } from '../../../words/closeUps'
import { LAMP_BURNS } from '../../../words/noticed'
import { capital } from '../../../words/units'
import { SAY } from '../../../words/say'

/** What takes a finger, a tester or a second look: relays, spark, fuel, fuses, lamps. */
const props = defineProps<{ job: JobView; busy: boolean }>()
const emit = defineEmits<{ said: [observed: Observed, turning: boolean] }>()

interface Closer {
  title: string
  turning: boolean
  answers: { label: string; observed: Observed }[]
}

function closeUp(view: CloseUpView): Closer {
  const answers = closeUpAnswers(view).map(({ label, what }) => ({
    label,
    observed: { kind: 'close-up' as const, what },
  }))
  return { title: closeUpTitle(view), turning: view.turning, answers }
}

const all = computed<Closer[]>(() => [
  ...props.job.close_ups.map(closeUp),
  ...props.job.lamps.map(({ id, name }) => ({
    title: capital(name),
    turning: false,
    answers: LAMP_BURNS.map(({ burns, label }) => ({
      label,
      observed: { kind: 'lamp' as const, lamp: id, burns },
    })),
  })),
])
const chosen = ref<string>()
const closer = computed(() => all.value.find((c) => c.title === chosen.value))

function say(observed: Observed) {
  emit('said', observed, !!closer.value?.turning)
  chosen.value = undefined
}
</script>

<template>
  <div class="closer">
    <v-autocomplete v-model="chosen" :items="all.map((c) => c.title)" :label="SAY.job.closer" />
    <div v-if="closer" role="group" :aria-label="closer.title" class="answers">
      <v-btn
        v-for="a in closer.answers"
        :key="a.label"
        height="52"
        :disabled="busy"
        @click="say(a.observed)"
        >{{ a.label }}</v-btn
      >
    </div>
  </div>
</template>

<style scoped>
.closer {
  display: grid;
  gap: 8px;
  flex: 1 1 320px;
  min-width: 0;
}
.answers {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
