<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import type { QuestionView } from '../../api/client'
import { SAY } from '../../words/say'
import PinsDrawing from './PinsDrawing.vue'

/** One question, its answers as buttons; a number key is as good as a touch. */
const props = defineProps<{ question: QuestionView; at: number; of: number; busy: boolean }>()
const emit = defineEmits<{ answer: [choice: string | null]; back: [] }>()

const heading = ref<HTMLElement>()
watch(
  () => props.question.id,
  async () => {
    await nextTick()
    heading.value?.focus()
  },
  { immediate: true },
)

/** Pins of a switch, where the answer is so many. */
function pins(choice: string): number {
  return /^[2-8]$/.test(choice) ? Number(choice) : 0
}

const chosen = computed(() => (props.question.seen ? props.question.answer : undefined))

function key(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const choice = props.question.choices[Number(event.key) - 1]
  if (choice) emit('answer', choice.id)
  else if (event.key === '0') emit('answer', null)
  else if (event.key === 'Backspace') emit('back')
  else return
  event.preventDefault()
}
</script>

<template>
  <section class="card" :aria-label="SAY.describe.question" @keydown="key">
    <p class="quiet">{{ at + 1 }} of {{ of }}</p>
    <h2 ref="heading" tabindex="-1">{{ question.asks }}</h2>
    <div class="choices">
      <v-btn
        v-for="(c, i) in question.choices"
        :key="c.id"
        class="choice"
        :class="{ strong: c.id === chosen }"
        :disabled="busy"
        :data-choice="c.id"
        @click="emit('answer', c.id)"
      >
        <kbd aria-hidden="true">{{ i + 1 }}</kbd>
        <span>{{ c.says }}</span>
        <PinsDrawing v-if="pins(c.id)" :pins="pins(c.id)" />
      </v-btn>
    </div>
    <div class="do">
      <v-btn v-if="at > 0" :disabled="busy" @click="emit('back')">{{ SAY.describe.back }}</v-btn>
      <v-btn :disabled="busy" @click="emit('answer', null)">{{ SAY.describe.cantTell }}</v-btn>
    </div>
  </section>
</template>

<style scoped>
.card {
  display: grid;
  gap: 14px;
  padding: 18px;
  background: var(--panel);
  border: 2px solid var(--ink);
  border-radius: 12px;
}
p,
h2 {
  margin: 0;
}
h2 {
  font-size: 24px;
}
h2:focus {
  outline: none;
}
.choices {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 10px;
}
.choice {
  height: auto !important;
  min-height: 64px;
  justify-content: start;
}
.choice :deep(.v-btn__content) {
  display: flex;
  gap: 12px;
  align-items: center;
  width: 100%;
  font-size: 18px;
  text-align: start;
  white-space: normal;
}
.choice span {
  flex: 1;
}
kbd {
  flex: none;
  min-width: 22px;
  font-size: 14px;
  text-align: center;
  border: 1px solid currentColor;
  border-radius: 4px;
}
.do {
  display: flex;
  gap: 10px;
  justify-content: end;
}
@media (max-width: 600px) {
  kbd {
    display: none;
  }
}
</style>
