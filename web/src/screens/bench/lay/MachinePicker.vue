<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { ApiError, api, type MachineSwitch, type MachineView } from '../../../api/client'
import MachineChoice from '../../../lists/MachineChoice.vue'
import { SAY } from '../../../words/say'

/** A switch of a machine, chosen. */
const emit = defineEmits<{ chosen: [at: { machine: string; part: string }, own: MachineSwitch] }>()

const chosen = shallowRef<MachineView>()
const machine = computed(() => chosen.value?.name)
const switches = ref<MachineSwitch[]>([])
const part = ref<string>()
const trouble = ref('')

async function ask(work: () => Promise<void>) {
  try {
    await work()
    trouble.value = ''
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
  }
}
watch(machine, (name) => {
  if (!name) return
  void ask(async () => {
    switches.value = await api.machineSwitches(name)
    part.value = (switches.value.find((s) => s.part === 'key') ?? switches.value[0])?.part
  })
})
const own = computed(() => switches.value.find((s) => s.part === part.value))
watch(own, (found) => {
  if (found && machine.value) emit('chosen', { machine: machine.value, part: found.part }, found)
})
const switchItems = computed(() => switches.value.map((s) => ({ title: s.name, value: s.part })))
</script>

<template>
  <div class="picker">
    <MachineChoice v-model="chosen" first @trouble="trouble = $event.message" />
    <v-select v-model="part" :items="switchItems" :label="SAY.bench.itsSwitch" />
    <p v-if="trouble" role="alert">{{ trouble }}</p>
  </div>
</template>

<style scoped>
.picker {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 14px;
}
p {
  margin: 0;
}
</style>
