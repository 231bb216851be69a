<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { computed, nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import {
  ApiError,
  api,
  type ConditionView,
  type MachineDetail,
  type SnapshotView,
  type Standing,
} from '../../api/client'
import { doesLines } from '../../words/reasons'
import { usePerson } from '../usePerson'
import { standingOf } from './useMachine'
import { SAY } from '../../words/say'

const props = defineProps<{
  detail: MachineDetail
  standing: Standing
  snapshot: SnapshotView
  named: ConditionView | undefined
}>()
const emit = defineEmits<{ go: [at: Standing]; changed: [conditions: ConditionView[]] }>()
const route = useRoute()
const router = useRouter()
const { person } = usePerson()

const lines = computed(() => doesLines(props.snapshot, props.detail))
const naming = ref(false)
const called = ref('')
const trouble = ref('')
const copied = ref(false)
const field = ref<{ focus: () => void } | null>(null)

function choose(event: Event) {
  const name = (event.target as HTMLSelectElement).value
  const condition = props.detail.conditions.find((c) => c.name === name)
  if (condition) emit('go', standingOf(condition))
}

function compare(event: Event) {
  const name = (event.target as HTMLSelectElement).value
  void router.replace({ query: { ...route.query, with: name || undefined } })
}

async function copyLink() {
  await navigator.clipboard?.writeText(window.location.href).catch(() => undefined)
  copied.value = true
  window.setTimeout(() => (copied.value = false), 2500)
}

async function begin() {
  naming.value = true
  await nextTick()
  field.value?.focus()
}

async function tried(request: Promise<ConditionView[]>) {
  trouble.value = ''
  try {
    emit('changed', await request)
    naming.value = false
    called.value = ''
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
  }
}

async function keep() {
  const { set, engine } = props.standing
  const body = { id: uuid(), name: called.value, set, engine, by: person.value }
  await tried(api.keepCondition(props.detail.name, body))
}

const forget = (id: string) => tried(api.forgetCondition(props.detail.name, id))
</script>

<template>
  <div class="bar">
    <ul class="does" :aria-label="SAY.machine.whatTheMachineDoes" aria-live="polite">
      <li v-for="line in lines" :key="line.says" :class="{ not: !line.does }">
        <b>{{ line.does ? '●' : '○' }} {{ line.says }}.</b>
        <span v-if="line.why">{{ ` ${line.why}.` }}</span>
      </li>
      <li v-for="code in snapshot.codes" :key="code.blinks">
        <b>Module lamp blinks {{ code.blinks }}.</b>{{ ` ${code.means}.` }}
      </li>
    </ul>
    <div class="name no-print">
      <div>
        <label
          >{{ SAY.machine.condition }}
          <select :value="named?.name ?? ''" @change="choose">
            <option value="" disabled>{{ named ? '' : SAY.machine.asSetAbove }}</option>
            <option v-for="c in detail.conditions" :key="c.name">{{ c.name }}</option>
          </select></label
        >
        <v-btn size="small" variant="text" @click="copyLink">{{
          copied ? SAY.machine.copied : SAY.machine.copyLink
        }}</v-btn>
      </div>
      <div>
        <label :title="SAY.machine.compareWithAnotherCondition"
          >{{ SAY.machine.compareWith }}
          <select :value="String(route.query.with ?? '')" @change="compare">
            <option value="">{{ SAY.machine.nothing }}</option>
            <option v-for="c in detail.conditions" :key="c.name">{{ c.name }}</option>
          </select></label
        >
        <v-btn v-if="!named && !naming" size="small" variant="text" @click="begin">{{
          SAY.machine.nameIt
        }}</v-btn>
        <v-btn
          v-if="named?.id"
          size="small"
          variant="text"
          :title="`Forget “${named.name}”`"
          @click="forget(named.id)"
          >{{ SAY.common.deleteIt }}</v-btn
        >
      </div>
    </div>
  </div>
  <form v-if="naming" class="naming no-print" @submit.prevent="keep">
    <v-text-field
      ref="field"
      v-model="called"
      :label="SAY.machine.nameOfThisCondition"
      maxlength="80"
      :error-messages="trouble"
      @keydown.esc="naming = false"
    />
    <v-btn type="submit" class="strong" :disabled="!called.trim()">{{ SAY.machine.keep }}</v-btn>
    <v-btn variant="text" @click="naming = false">{{ SAY.common.cancel }}</v-btn>
  </form>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
  align-items: flex-start;
  justify-content: space-between;
}
.does {
  flex: 1 1 520px;
  display: grid;
  gap: 2px;
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 18px;
}
.not b {
  color: var(--quiet);
}
.name {
  display: flex;
  flex-direction: column;
  gap: 4px;
  align-items: flex-end;
}
.name > div {
  display: flex;
  gap: 6px;
  width: min(390px, 100%);
}
.name .v-btn {
  width: 88px;
}
.name label {
  display: flex;
  white-space: nowrap;
  flex: 0 1 296px;
  gap: 6px;
  justify-content: flex-end;
  align-items: center;
  font-size: 15px;
}
select {
  flex: 0 1 178px;
  min-width: 0;
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--dead);
  border-radius: 10px;
  background: var(--panel);
}
@media (max-width: 1000px) {
  .name {
    flex-direction: row;
    flex-wrap: wrap;
    gap: 4px 20px;
  }
}
.naming {
  display: flex;
  gap: 10px;
  align-items: flex-start;
  max-width: 560px;
}
</style>
