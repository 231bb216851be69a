<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { computed, ref } from 'vue'
import { ApiError, api, type ProfileView, type SwitchKind } from '../../../api/client'
import { IGNITION_TYPE, KIND, POSITIONS } from '../../../words/bench'
import { usePerson } from '../../usePerson'
import MachinePicker from './MachinePicker.vue'
import { SAY } from '../../../words/say'

/** A switch laid on the bench: a machine's, one by its kind, or one that nobody knows. */
const props = defineProps<{ profiles: ProfileView[] }>()
const emit = defineEmits<{ laid: [id: string] }>()

const { person } = usePerson()

type From = 'machine' | 'kind' | 'unknown'
const from = ref<From>('machine')
const FROM: { id: From; name: string }[] = [
  { id: 'machine', name: 'From a machine' },
  { id: 'kind', name: 'By its kind' },
  { id: 'unknown', name: 'Unknown' },
]
const machine = ref<{ machine: string; part: string }>()
const machineName = ref('')
const profile = ref<string>()
const kind = ref<SwitchKind>('key-switch')
const count = ref(5)
const marked = ref('')
const own = ref('')
const name = ref('')
const newPart = ref(false)
const busy = ref(false)
const trouble = ref<ApiError>()
/** One id for the panel: sent twice, it is laid there once. */
const id = uuid()

const profileItems = computed(() =>
  props.profiles.map((p) => ({
    title: p.kept_by ? `${p.document.name} (own)` : p.document.name,
    value: p.document.id,
  })),
)
const chosen = computed(() => props.profiles.find((p) => p.document.id === profile.value)?.document)
const kinds = (Object.keys(KIND) as SwitchKind[]).map((value) => ({ value, title: KIND[value] }))
const positionsText = ref('')
const positions = computed(() => {
  const usual = POSITIONS[kind.value]
  const names = positionsText.value.split(',').map((n) => n.trim())
  if (!names.some(Boolean)) return usual
  return names.filter(Boolean).map((n) => {
    const id = n.toLowerCase()
    return usual.find((p) => p.id === id) ?? { id, name: n }
  })
})
const suggested = computed(() => {
  switch (from.value) {
    case 'machine':
      return machineName.value
    case 'kind':
      return chosen.value?.name ?? ''
    default:
      return `Unknown ${KIND[kind.value].toLowerCase()}, ${count.value} terminals`
  }
})
/** What the terminals are called: as printed, else numbered. */
const terminals = computed(() => {
  const printed = marked.value.split(/[\s,;]+/).filter(Boolean)
  if (printed.length) return printed
  if (from.value === 'unknown') return Array.from({ length: count.value }, (_, i) => `${i + 1}`)
  return own.value === 'numbered' && chosen.value
    ? chosen.value.terminals.map((_, i) => `${i + 1}`)
    : []
})
const ready = computed(() =>
  from.value === 'machine' ? !!machine.value : from.value === 'kind' ? !!profile.value : true,
)

async function lay() {
  if (!ready.value) return
  busy.value = true
  trouble.value = undefined
  const is =
    from.value === 'machine' && machine.value
      ? { kind: 'of-machine' as const, ...machine.value }
      : from.value === 'kind' && profile.value
        ? { kind: 'of-profile' as const, profile: profile.value }
        : { kind: 'unknown' as const, switch: kind.value, positions: positions.value }
  try {
    await api.laySwitch({
      id,
      by: person.value,
      name: name.value.trim() || suggested.value,
      is,
      terminals: terminals.value,
      new_part: newPart.value,
    })
    emit('laid', id)
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="panel" :aria-label="SAY.bench.testASwitch" @submit.prevent="lay">
    <div role="group" :aria-label="SAY.bench.whatIsIt" class="row">
      <v-btn
        v-for="f in FROM"
        :key="f.id"
        height="56"
        :class="{ strong: from === f.id }"
        :aria-pressed="from === f.id"
        @click="from = f.id"
        >{{ f.name }}</v-btn
      >
    </div>
    <MachinePicker
      v-if="from === 'machine'"
      @chosen="(at, s) => ((machine = at), (machineName = s.profile.name))"
    />
    <template v-else-if="from === 'kind'">
      <v-select v-model="profile" :items="profileItems" :label="SAY.common.kind" />
      <p v-if="chosen?.ignition" class="quiet">{{ IGNITION_TYPE[chosen.ignition] }}</p>
      <v-select
        v-model="own"
        :label="SAY.bench.itsTerminals"
        :items="[
          { title: 'marked as this kind is', value: '' },
          { title: 'not marked: number them 1, 2, 3 …', value: 'numbered' },
        ]"
      />
    </template>
    <template v-else>
      <div class="two">
        <v-select v-model="kind" :items="kinds" :label="SAY.bench.whatSort" />
        <v-text-field
          v-model.number="count"
          type="number"
          min="2"
          max="16"
          :label="SAY.bench.howManyTerminals"
        />
      </div>
      <div class="two">
        <v-text-field v-model="marked" :label="SAY.bench.whatIsPrintedByThem" />
        <v-text-field
          v-model="positionsText"
          :label="`Its positions, if not ${POSITIONS[kind].map((p) => p.name).join(', ')}`"
        />
      </div>
    </template>
    <v-text-field
      v-model="name"
      :label="SAY.bench.callIt"
      :placeholder="suggested"
      persistent-placeholder
    />
    <label class="new"
      ><input v-model="newPart" type="checkbox" /> {{ SAY.bench.aNewPartTestedBefore }}</label
    >
    <p v-if="trouble" class="trouble" role="alert">{{ trouble.message }} What you typed is kept.</p>
    <v-btn type="submit" class="strong" height="56" :disabled="busy || !ready">{{
      SAY.bench.startTesting
    }}</v-btn>
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
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.row :deep(.v-btn) {
  flex: 1;
  font-size: 18px;
}
.new {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
  font-size: 18px;
}
.new input {
  width: 24px;
  height: 24px;
}
p {
  margin: 0;
}
.trouble {
  color: var(--plum);
}
@media (max-width: 700px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
