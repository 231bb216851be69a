<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { computed, ref, shallowRef } from 'vue'
import { ApiError, api, type MachineView } from '../../api/client'
import MachineChoice from '../../lists/MachineChoice.vue'

const emit = defineEmits<{ opened: [id: string] }>()

const machine = shallowRef<MachineView>()
const revision = computed(() => machine.value?.revision_id)
const tag = ref('')
const owner = ref('')
const complaint = ref('')
const serial = ref('')
const hours = ref('')
const trouble = ref<ApiError>()
const busy = ref(false)
/** One id for the panel: sent twice, the job is opened once. */
const id = uuid()

async function open() {
  if (!revision.value) return
  busy.value = true
  try {
    await api.openJob({
      id,
      revision_id: revision.value,
      tag: tag.value,
      owner: owner.value,
      complaint: complaint.value,
      serial: serial.value,
      hours: hours.value.trim() ? Number(hours.value.replace(',', '.')) : null,
    })
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
    <MachineChoice v-model="machine" first @trouble="trouble = $event" />
    <div class="two">
      <v-text-field
        v-model="tag"
        label="Which one (its tag or number)"
        :error-messages="trouble?.field('tag')"
      />
      <v-text-field v-model="owner" label="Owner" :error-messages="trouble?.field('owner')" />
    </div>
    <div class="two">
      <v-text-field
        v-model="serial"
        label="Serial number"
        :error-messages="trouble?.field('serial')"
      />
      <v-text-field
        v-model="hours"
        label="Hours on the meter"
        inputmode="decimal"
        :error-messages="trouble?.field('hours')"
      />
    </div>
    <v-textarea
      v-model="complaint"
      label="What does it do, or not do?"
      rows="2"
      autofocus
      :error-messages="trouble?.field('complaint')"
    />
    <p v-if="trouble && !trouble.problem?.errors?.length" class="trouble" role="alert">
      {{ trouble.message }} What you typed is kept.
    </p>
    <v-btn type="submit" class="strong" :disabled="busy || !revision">Open job</v-btn>
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
