<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { ApiError, api, type MachineView, type Symptom, type When } from '../../api/client'
import SymptomPicker from '../../complaint/SymptomPicker.vue'
import MachineChoice from '../../lists/MachineChoice.vue'
import { usePerson } from '../usePerson'

const emit = defineEmits<{ opened: [id: string] }>()

const machine = shallowRef<MachineView>()
const revision = computed(() => machine.value?.revision_id)
const chosen = ref<{ symptom: Symptom; when: When }>()
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
watch(chosen, () => (complaint = uuid()))
const { person, load: loadPeople } = usePerson()
void loadPeople().catch(() => undefined)

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
      complained: chosen.value && { id: complaint, by: person.value, ...chosen.value },
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
  <form class="panel" aria-label="New job" @submit.prevent="open">
    <MachineChoice
      v-model="machine"
      :error="unpicked && !machine ? 'Pick the machine first.' : undefined"
      @trouble="trouble = $event"
    />
    <SymptomPicker
      v-if="machine"
      v-model="chosen"
      :machine="machine.name"
      @words="said = $event"
      @trouble="trouble = $event"
    />
    <v-textarea
      v-model="typed.complaint"
      label="In the customer’s words"
      :placeholder="said"
      rows="2"
      :error-messages="trouble?.field('complaint')"
    />
    <div class="two">
      <v-text-field
        v-model="typed.tag"
        label="Which one (its tag or number)"
        :error-messages="trouble?.field('tag')"
      />
      <v-text-field v-model="typed.owner" label="Owner" :error-messages="trouble?.field('owner')" />
    </div>
    <div class="two">
      <v-text-field
        v-model="typed.serial"
        label="Serial number"
        :error-messages="trouble?.field('serial')"
      />
      <v-text-field
        v-model="typed.hours"
        label="Hours on the meter"
        inputmode="decimal"
        :error-messages="hoursTrouble"
      />
    </div>
    <p v-if="besides" class="trouble" role="alert">{{ besides }} What you typed is kept.</p>
    <v-btn type="submit" class="strong" height="56" :disabled="busy">Open job</v-btn>
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
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
}
.trouble {
  color: var(--plum);
}
</style>
