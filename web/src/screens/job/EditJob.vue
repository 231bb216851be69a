<script setup lang="ts">
import { reactive, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { ApiError, api, type JobView, type MachineView } from '../../api/client'
import MachineChoice from '../../lists/MachineChoice.vue'
import { SAY } from '../../words/say'

/** Whose machine it is, corrected; of a job in which nothing was recorded the machine itself, too. */
const props = defineProps<{ job: JobView }>()
const emit = defineEmits<{ changed: []; close: [] }>()

const router = useRouter()
const typed = reactive({
  tag: props.job.tag,
  owner: props.job.owner,
  serial: props.job.serial,
  hours: props.job.hours == null ? '' : String(props.job.hours),
  complaint: props.job.complaint,
})
const machine = shallowRef<MachineView>()
const trouble = ref<ApiError>()
const busy = ref(false)
const empty = props.job.evidence.length === 0 && props.job.verdicts.length === 0

async function doing(work: () => Promise<void>) {
  busy.value = true
  trouble.value = undefined
  try {
    await work()
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error
  }
  busy.value = false
}

const save = () =>
  doing(async () => {
    const { hours: text, ...rest } = typed
    const hours = text.trim() ? Number(text.trim().replace(',', '.')) : null
    if (Number.isNaN(hours)) {
      trouble.value = ApiError.of(422, 'Hours: type a number, like 312.5.')
      return
    }
    await api.changeJob(props.job.id, {
      ...rest,
      hours,
      version: props.job.version,
      revision_id: machine.value?.revision_id ?? null,
    })
    emit('changed')
    emit('close')
  })

const remove = () =>
  doing(async () => {
    await api.deleteJob(props.job.id)
    await router.push('/')
  })
</script>

<template>
  <form class="edit" :aria-label="SAY.job.editThisJob" @submit.prevent="save">
    <MachineChoice
      v-if="empty"
      v-model="machine"
      :label="SAY.job.anotherMachine"
      @trouble="trouble = $event"
    />
    <div class="two">
      <v-text-field v-model="typed.tag" :label="SAY.job.tag" hide-details />
      <v-text-field v-model="typed.owner" :label="SAY.common.owner" hide-details />
      <v-text-field v-model="typed.serial" :label="SAY.common.serialNumber" hide-details />
      <v-text-field v-model="typed.hours" :label="SAY.job.hours" inputmode="decimal" hide-details />
    </div>
    <v-textarea
      v-model="typed.complaint"
      :label="SAY.common.inTheCustomersWords"
      rows="2"
      hide-details
    />
    <p v-if="trouble" role="alert">{{ trouble.sentence }} What you typed is kept.</p>
    <div class="row">
      <v-btn type="submit" class="strong" :disabled="busy">{{ SAY.job.save }}</v-btn>
      <v-btn :disabled="busy" @click="emit('close')">{{ SAY.common.cancel }}</v-btn>
      <v-btn v-if="empty" :disabled="busy" @click="remove">{{ SAY.job.deleteThisJob }}</v-btn>
    </div>
  </form>
</template>

<style scoped>
.edit {
  display: grid;
  gap: 10px;
  padding: 12px 14px;
  border: 2px solid var(--ink);
  border-radius: 12px;
  background: var(--panel);
}
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 10px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
p {
  margin: 0;
  color: var(--plum);
}
</style>
