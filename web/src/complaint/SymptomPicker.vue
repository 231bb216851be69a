<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import {
  ApiError,
  api,
  type Entry,
  type Symptom,
  type SymptomsView,
  type TellingView,
  type When,
} from '../api/client'
import { WONT_CRANK, symptomWords, tellingLines, whenWords } from '../words/complaint'
import ChoiceButtons from './ChoiceButtons.vue'
import { SAY } from '../words/say'

/** What does it do? Big buttons fitted to the machine; what a choice says is shown before it counts. */
const props = defineProps<{ machine: string }>()
const chosen = defineModel<{ symptom: Symptom; when: When; entries: Entry[] } | undefined>()
const emit = defineEmits<{
  trouble: [error: ApiError]
  words: [words: string]
  menu: [menu: SymptomsView]
}>()

const menu = shallowRef<SymptomsView>()
const symptom = ref<Symptom>()
const told = shallowRef<TellingView>()
let asked = 0

watch(
  () => props.machine,
  async (name) => {
    const mine = ++asked
    menu.value = symptom.value = told.value = chosen.value = undefined
    emit('words', '')
    try {
      const found = await api.symptoms(name)
      if (mine !== asked) return
      menu.value = found
      emit('menu', found)
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      emit('trouble', error)
    }
  },
  { immediate: true },
)

const offered = computed(() => menu.value?.symptoms.map((s) => s.symptom) ?? [])
const hows = computed(() => WONT_CRANK.filter((s) => offered.value.includes(s)))
/** A starter that does not turn the engine is one question, and then another. */
type Question = Symptom | 'wont-crank'
const questions = computed<Question[]>(() => [
  ...(hows.value.length ? ['wont-crank' as const] : []),
  ...offered.value.filter((s) => !WONT_CRANK.includes(s)),
])
const question = ref<Question>()
const tellings = computed(
  () => menu.value?.symptoms.find((s) => s.symptom === symptom.value)?.tellings ?? [],
)
const says = (q: Question) => symptomWords(q, menu.value?.driven ?? '')
const when = (t: TellingView) =>
  whenWords(t.when, menu.value?.controls ?? [], menu.value?.part_names ?? {})
const lines = computed(() =>
  told.value ? tellingLines(told.value, menu.value?.controls ?? []) : [],
)

/** What was read from a sentence is shown as if it had been tapped. */
function show(symptom_: Symptom, telling: TellingView) {
  question.value = WONT_CRANK.includes(symptom_) ? 'wont-crank' : symptom_
  symptom.value = symptom_
  say(telling)
}
defineExpose({ show })

function ask(next: Question) {
  question.value = next
  symptom.value = told.value = chosen.value = undefined
  emit('words', '')
  if (next !== 'wont-crank') choose(next)
}

function choose(own: Symptom) {
  symptom.value = own
  told.value = chosen.value = undefined
  const [only, ...more] = tellings.value
  if (only && !more.length) say(only)
}

function say(telling: TellingView) {
  if (!symptom.value) return
  told.value = telling
  chosen.value = { symptom: symptom.value, when: telling.when, entries: telling.entries }
  const own = says(symptom.value)
  emit('words', tellings.value.length > 1 ? `${own}: ${when(telling)}` : own)
}
</script>

<template>
  <section v-if="menu" class="picker" :aria-label="SAY.common.whatDoesItDo">
    <ChoiceButtons
      :question="SAY.common.whatDoesItDo"
      :choices="questions"
      :says="says"
      :chosen="question"
      @choose="ask"
    />
    <ChoiceButtons
      v-if="question === 'wont-crank'"
      :question="SAY.complaint.wontCrankWhatDoYou"
      :choices="hows"
      :says="says"
      :chosen="symptom"
      @choose="choose"
    />
    <ChoiceButtons
      v-if="tellings.length > 1"
      :question="SAY.complaint.when"
      :choices="tellings"
      :says="when"
      :chosen="tellings.find((t) => JSON.stringify(t.when) === JSON.stringify(told?.when))"
      @choose="say"
    />
    <ul
      v-if="lines.length"
      class="says"
      :aria-label="SAY.complaint.whatThatSays"
      aria-live="polite"
    >
      <li v-for="line in lines" :key="line">{{ line }}</li>
    </ul>
  </section>
</template>

<style scoped>
.picker {
  display: grid;
  gap: 8px;
}
.says {
  margin: 6px 0 0;
  padding: 8px 12px 8px 28px;
  border-left: 8px solid var(--slate);
  background: var(--well);
  border-radius: 8px;
  font-size: 16px;
}
</style>
