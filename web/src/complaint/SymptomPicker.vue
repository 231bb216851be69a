<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { ApiError, api, type Symptom, type SymptomsView, type When } from '../api/client'
import { SYMPTOM, WONT_CRANK, tellingLines, whenWords } from '../words/complaint'

/** What does it do? Big buttons fitted to the machine; what a choice says is shown before it counts. */
const props = defineProps<{ machine: string }>()
const chosen = defineModel<{ symptom: Symptom; when: When } | undefined>()
const emit = defineEmits<{ trouble: [error: ApiError]; words: [words: string] }>()

const menu = shallowRef<SymptomsView>()
const symptom = ref<Symptom>()
const wontCrank = ref(false)
let asked = 0

watch(
  () => props.machine,
  async (name) => {
    const mine = ++asked
    menu.value = symptom.value = chosen.value = undefined
    wontCrank.value = false
    try {
      const found = await api.symptoms(name)
      if (mine === asked) menu.value = found
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      emit('trouble', error)
    }
  },
  { immediate: true },
)

const offered = computed(() => menu.value?.symptoms.map((s) => s.symptom) ?? [])
const hows = computed(() => WONT_CRANK.filter((s) => offered.value.includes(s)))
const others = computed(() => offered.value.filter((s) => !WONT_CRANK.includes(s)))
const tellings = computed(
  () => menu.value?.symptoms.find((s) => s.symptom === symptom.value)?.tellings ?? [],
)
const when = (w: When) => whenWords(w, menu.value?.controls ?? [], menu.value?.part_names ?? {})
const told = computed(() =>
  tellings.value.find((t) => JSON.stringify(t.when) === JSON.stringify(chosen.value?.when)),
)
const lines = computed(() =>
  told.value ? tellingLines(told.value, menu.value?.controls ?? []) : [],
)

function choose(own: Symptom) {
  symptom.value = own
  wontCrank.value = WONT_CRANK.includes(own)
  const [only, ...more] = tellings.value
  chosen.value = undefined
  if (only && !more.length) say(only.when)
}

function say(at: When) {
  if (!symptom.value) return
  chosen.value = { symptom: symptom.value, when: at }
  const own = SYMPTOM[symptom.value]
  emit('words', tellings.value.length > 1 ? `${own}: ${when(at)}` : own)
}

function openWontCrank() {
  wontCrank.value = true
  symptom.value = chosen.value = undefined
}
</script>

<template>
  <section v-if="menu" class="picker" aria-label="What does it do?">
    <p id="what-it-does"><b>What does it do?</b></p>
    <div class="buttons" role="group" aria-labelledby="what-it-does">
      <v-btn
        v-if="hows.length"
        height="56"
        :aria-pressed="wontCrank"
        :aria-expanded="wontCrank"
        @click="openWontCrank"
        >Won’t crank</v-btn
      >
      <v-btn
        v-for="s in others"
        :key="s"
        height="56"
        :aria-pressed="symptom === s"
        @click="choose(s)"
        >{{ SYMPTOM[s] }}</v-btn
      >
    </div>
    <template v-if="wontCrank">
      <p id="how-it-fails"><b>Won’t crank: what do you hear?</b></p>
      <div class="buttons" role="group" aria-labelledby="how-it-fails">
        <v-btn
          v-for="s in hows"
          :key="s"
          height="56"
          :aria-pressed="symptom === s"
          @click="choose(s)"
          >{{ SYMPTOM[s] }}</v-btn
        >
      </div>
    </template>
    <template v-if="tellings.length > 1">
      <p id="when-it-does"><b>When?</b></p>
      <div class="buttons" role="group" aria-labelledby="when-it-does">
        <v-btn
          v-for="t in tellings"
          :key="JSON.stringify(t.when)"
          height="56"
          :aria-pressed="told === t"
          @click="say(t.when)"
          >{{ when(t.when) }}</v-btn
        >
      </div>
    </template>
    <ul v-if="lines.length" class="says" aria-label="What that says" aria-live="polite">
      <li v-for="line in lines" :key="line">{{ line }}</li>
    </ul>
  </section>
</template>

<style scoped>
.picker {
  display: grid;
  gap: 8px;
}
p {
  margin: 6px 0 0;
  font-size: 18px;
}
.buttons {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 8px;
}
.buttons :deep(.v-btn) {
  font-size: 17px;
}
.buttons :deep(.v-btn__content) {
  white-space: normal;
  line-height: 1.15;
}
.buttons :deep([aria-pressed='true']) {
  background: var(--ink);
  color: var(--paper);
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
