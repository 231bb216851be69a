<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { ApiError, api, type MachineView } from '../api/client'
import { SAY } from '../words/say'

/** A machine of the library, found by its make, model or kind as it is typed. */
const props = defineProps<{ label?: string; first?: boolean; error?: string | undefined }>()
const chosen = defineModel<MachineView>()
const emit = defineEmits<{ trouble: [error: ApiError] }>()

const machines = shallowRef<MachineView[]>([])
const typed = ref('')
let timer: number | undefined

async function load(q: string) {
  try {
    machines.value = (await api.machines({ q })).machines
    if (props.first) chosen.value ??= machines.value[0]
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    emit('trouble', error)
  }
}
onMounted(() => load(''))
watch(typed, (text) => {
  window.clearTimeout(timer)
  // What stands there because it was chosen is not looked for.
  const q = chosen.value && text === title(chosen.value) ? '' : text
  timer = window.setTimeout(() => void load(q), 250)
})

function title(m: MachineView): string {
  return `${m.make} ${m.model}, ${m.family}${m.found.length ? ', not as built' : ''}`
}
const items = computed(() => {
  const all =
    chosen.value && !machines.value.some((m) => m.name === chosen.value?.name)
      ? [chosen.value, ...machines.value]
      : machines.value
  return all.map((m) => ({ title: title(m), value: m.name }))
})
const name = computed({
  get: () => chosen.value?.name,
  set: (to) => {
    chosen.value = machines.value.find((m) => m.name === to) ?? chosen.value
  },
})
</script>

<template>
  <v-autocomplete
    v-model="name"
    v-model:search="typed"
    :items="items"
    :label="label ?? SAY.common.machine"
    :error-messages="error"
    no-filter
    no-data-text="No machine matches. Try fewer words."
  />
</template>
