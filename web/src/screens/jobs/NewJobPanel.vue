<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { computed, onMounted, reactive, ref, shallowRef, watch } from 'vue'
import {
  ApiError,
  api,
  type Entry,
  type JobSummary,
  type MachineView,
  type Symptom,
  type SymptomsView,
  type When,
} from '../../api/client'
import SentenceReader from '../../complaint/SentenceReader.vue'
import SymptomPicker from '../../complaint/SymptomPicker.vue'
import BeenHere from './BeenHere.vue'
import MachineChoice from '../../lists/MachineChoice.vue'
import { usePerson } from '../usePerson'
import { SAY } from '../../words/say'

/** `on`: the machine that it is opened on, by its name in addresses. */
const props = defineProps<{ on?: string | undefined }>()
const emit = defineEmits<{ opened: [id: string] }>()

const machine = shallowRef<MachineView>()
const revision = computed(() => machine.value?.revision_id)
const chosen = ref<{ symptom: Symptom; when: When; entries: Entry[] }>()
/** What was read beside the symptom. */
const also = shallowRef<Entry[]>([])
const picker = ref<InstanceType<typeof SymptomPicker>>()
const menu = shallowRef<SymptomsView>()
/** What the buttons said, in words: the complaint where nobody types one. */
const said = ref('')
const trouble = ref<ApiError>()
const busy = ref(false)
/** The job was to be opened, and no machine is picked. */
const unpicked = ref(false)
/** One id for the panel: sent twice, the job is opened once. */
const id = uuid()
/** And one for each choice, which goes in once. */
let complaint = uuid()
watch([chosen, also], () => (complaint = uuid()))
/** A machine that was here before: what is known of it goes in. */
function returned(own: MachineView, before: JobSummary) {
  machine.value = own
  Object.assign(typed, { tag: before.tag, owner: before.owner, serial: before.serial })
}
onMounted(async () => {
  if (!props.on) return
  try {
    machine.value = await api.machine(props.on)
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error
  }
})
const { person } = usePerson()

/** What is typed outlives a reload, until the job is open. */
const DRAFT = 'kelvok.draft.new-job'
const EMPTY = { tag: '', owner: '', complaint: '', serial: '', hours: '' }
const typed = reactive({
  ...EMPTY,
  ...(JSON.parse(sessionStorage.getItem(DRAFT) ?? '{}') as Partial<typeof EMPTY>),
})
watch(typed, (now) => sessionStorage.setItem(DRAFT, JSON.stringify(now)))

const hours = computed(() => {
  const text = typed.hours.trim().replace(',', '.')
  return text ? Number(text) : null
})
/** What is no number is said, not dropped. */
const hoursTrouble = computed(() =>
  Number.isNaN(hours.value)
    ? 'That is not a number. Type the hours on the meter, like 312.5.'
    : trouble.value?.field('hours'),
)

/** Fields that show what is wrong with them; the rest is said below. */
const SHOWN = ['tag', 'owner', 'complaint', 'serial', 'hours']
const besides = computed(() => {
  const own = trouble.value?.problem?.errors ?? []
  const rest = own.filter((e) => !SHOWN.includes(e.field)).map((e) => e.sentence)
  return own.length ? rest.join(' ') : (trouble.value?.message ?? '')
})

async function open() {
  unpicked.value = !revision.value
  if (!revision.value || Number.isNaN(hours.value)) return
  busy.value = true
  trouble.value = undefined
  try {
    await api.openJob({
      id,
      revision_id: revision.value,
      tag: typed.tag,
      owner: typed.owner,
      complaint: typed.complaint.trim() || said.value,
      serial: typed.serial,
      hours: hours.value,
      complained: chosen.value && {
        id: complaint,
        by: person.value,
        ...chosen.value,
        // What still works first, what is wrong last.
        entries: [...also.value, ...chosen.value.entries],
      },
    })
    sessionStorage.removeItem(DRAFT)
    emit('opened', id)
  } catch (error) {
    if (error instanceof ApiError) trouble.value = error
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="panel" :aria-label="SAY.jobs.newJob" @submit.prevent="open">
    <BeenHere @machine="returned" />
    <MachineChoice
      v-model="machine"
      :error="unpicked && !machine ? 'Pick the machine first.' : undefined"
      @trouble="trouble = $event"
    />
    <router-link class="describe" to="/describe">{{ SAY.jobs.notInTheList }}</router-link>
    <SentenceReader
      v-model="typed.complaint"
      v-model:also="also"
      :machine="machine?.name ?? ''"
      :menu="menu"
      :placeholder="said"
      :error="trouble?.field('complaint')"
      @read="picker?.show($event.symptom, $event)"
    />
    <SymptomPicker
      v-if="machine"
      ref="picker"
      v-model="chosen"
      :machine="machine.name"
      @words="said = $event"
      @menu="menu = $event"
      @trouble="trouble = $event"
    />
    <div class="two">
      <v-text-field
        v-model="typed.tag"
        :label="SAY.jobs.whichOneItsTagOr"
        :error-messages="trouble?.field('tag')"
      />
      <v-text-field
        v-model="typed.owner"
        :label="SAY.common.owner"
        :error-messages="trouble?.field('owner')"
      />
    </div>
    <div class="two">
      <v-text-field
        v-model="typed.serial"
        :label="SAY.common.serialNumber"
        :error-messages="trouble?.field('serial')"
      />
      <v-text-field
        v-model="typed.hours"
        :label="SAY.jobs.hoursOnTheMeter"
        inputmode="decimal"
        :error-messages="hoursTrouble"
      />
    </div>
    <p v-if="besides" class="trouble" role="alert">{{ besides }} What you typed is kept.</p>
    <v-btn type="submit" class="strong" height="56" :disabled="busy">{{ SAY.jobs.openJob }}</v-btn>
  </form>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 14px;
  margin: 16px 0;
  padding: 18px;
  border: 2px solid var(--ink);
  border-radius: 12px;
  background: var(--panel);
}
.describe {
  display: inline-flex;
  align-items: center;
  justify-self: start;
  min-height: 44px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
}
.trouble {
  color: var(--plum);
}
@media (max-width: 600px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
