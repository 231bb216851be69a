<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import {
  ApiError,
  api,
  type Entry,
  type SymptomsView,
  type ToldView,
  type UnderstoodView,
} from '../api/client'
import { readChips, toldWords } from '../words/complaint'
import ChoiceButtons from './ChoiceButtons.vue'
import { SAY } from '../words/say'

/** What the customer says, read into what the machine can have; what it makes nothing of is said. */
const props = defineProps<{
  machine: string
  menu: SymptomsView | undefined
  /** What the server has against it. */
  error?: string | undefined
}>()
const said = defineModel<string>({ required: true })
/** What goes in beside the symptom: what still works, past repairs, what comes off and on. */
const also = defineModel<Entry[]>('also', { required: true })
const emit = defineEmits<{ read: [told: ToldView] }>()
defineOptions({ inheritAttrs: false })

const read = shallowRef<UnderstoodView>()
const trouble = ref('')
/** Chips that were dropped. */
const dropped = ref<string[]>([])
let asked = 0
let timer = 0

watch(
  [said, () => props.machine],
  () => {
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void look(), 350)
  },
  { immediate: true },
)

async function look() {
  const mine = ++asked
  dropped.value = []
  trouble.value = ''
  if (!said.value.trim() || !props.machine) {
    read.value = undefined
    return
  }
  try {
    const found = await api.readSentence(props.machine, said.value)
    if (mine !== asked) return
    read.value = found
    const [first, ...more] = found.complaints
    // Only what is sure is taken; the rest is asked.
    if (first?.may_be.length === 1 && !more.length && !found.clash && !found.normal) {
      take(first.may_be[0]!)
    }
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.sentence
  }
}

const chips = computed(() =>
  (read.value ? readChips(read.value) : []).filter((c) => !dropped.value.includes(c.says)),
)
watch(chips, (now) => (also.value = now.flatMap((c) => (c.entry ? [c.entry] : []))))

/** What the words leave open, each as a question; two that cannot both be are one question. */
const open = computed(() => {
  const own = read.value?.complaints ?? []
  if (read.value?.clash || own.length > 1) return [own.flatMap((c) => c.may_be)]
  return own.filter((c) => c.may_be.length > 1).map((c) => c.may_be)
})
const picked = shallowRef<ToldView>()
watch(read, () => (picked.value = undefined))

function pick(told: ToldView) {
  picked.value = told
  take(told)
}

let taken: ToldView | undefined
function take(told: ToldView) {
  taken = told
  emit('read', told)
}

/** Drops a chip; what is not off and on is always like that. */
function drop(chip: { says: string; often?: boolean }) {
  dropped.value.push(chip.says)
  if (!chip.often || !taken) return
  const always = (e: Entry) => ({ ...e, at_times: false, times_an_hour: null })
  take({ ...taken, entries: taken.entries.map(always) })
}
const says = (t: ToldView) => (props.menu ? toldWords(t, props.menu) : '')
</script>

<template>
  <div class="reader">
    <v-textarea
      v-model="said"
      v-bind="$attrs"
      :label="SAY.common.inTheCustomersWords"
      rows="2"
      auto-grow
      max-rows="6"
      :counter="said.length > 4500 ? 5000 : undefined"
      :error-messages="error ?? trouble"
    />
    <div v-if="read" aria-live="polite" class="read">
      <p v-if="read.normal">
        <b>{{ SAY.complaint.aGoodMachineDoesThat }}</b>, set like that. Ask how the controls were
        set.
      </p>
      <p v-if="read.clash">
        <b>{{ SAY.complaint.theseTwoCantBothBe }}</b> {{ SAY.complaint.whichOneIsIt }}
      </p>
      <template v-if="menu && !read.normal">
        <ChoiceButtons
          v-for="(choices, i) in open"
          :key="i"
          :question="SAY.complaint.whichOne"
          :choices="choices"
          :says="says"
          :chosen="picked"
          @choose="pick"
        />
      </template>
      <div
        v-if="chips.length"
        class="chips"
        role="group"
        :aria-label="SAY.complaint.alsoUnderstood"
      >
        <v-btn
          v-for="chip in chips"
          :key="chip.says"
          :aria-label="`Drop: ${chip.says}`"
          @click="drop(chip)"
          >{{ chip.says }} <span aria-hidden="true">&nbsp;×</span></v-btn
        >
      </div>
      <p v-if="read.left.length" class="quiet">
        Not understood, kept as words: {{ read.left.join('; ') }}.
      </p>
    </div>
  </div>
</template>

<style scoped>
.reader,
.read {
  display: grid;
  gap: 8px;
  min-width: 0;
}
p {
  margin: 0;
  overflow-wrap: anywhere;
}
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.chips :deep(.v-btn) {
  min-height: 44px;
}
</style>
