<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Edit, EditedTerminal, EditedWire } from '../../api/client'
import { SAY } from '../../words/say'

/** A wire to be put in, or one that is there to be changed. */
const props = defineProps<{ wire?: EditedWire; terminals: EditedTerminal[]; busy: boolean }>()
const emit = defineEmits<{ step: [edit: Edit] }>()

const from = ref<string | null>(props.wire?.from ?? null)
const to = ref<string | null>(props.wire?.to ?? null)
const color = ref(props.wire?.color ?? '')
const gauge = ref<number | null>(props.wire?.gauge ?? null)

const items = computed(() => props.terminals.map((t) => ({ title: t.name, value: t.address })))
const GAUGES = [4, 6, 8, 10, 12, 14, 16, 18, 20, 22].map((g) => ({ title: `${g} AWG`, value: g }))

const ready = computed(() => !!from.value && !!to.value && from.value !== to.value)
const changed = computed(() => {
  const own = props.wire
  return (
    !own ||
    from.value !== own.from ||
    to.value !== own.to ||
    color.value.trim() !== (own.color ?? '') ||
    gauge.value !== (own.gauge ?? null)
  )
})

function done() {
  if (!ready.value || !changed.value || props.busy) return
  const [a, b, paint] = [from.value!, to.value!, color.value.trim()]
  const own = props.wire
  if (!own) {
    emit('step', { kind: 'add-wire', from: a, to: b, color: paint || null, gauge: gauge.value })
    return
  }
  emit('step', {
    kind: 'change-wire',
    wire: own.id,
    from: a === own.from ? null : a,
    to: b === own.to ? null : b,
    color: paint === (own.color ?? '') ? null : paint,
    gauge: gauge.value === (own.gauge ?? null) ? null : gauge.value,
  })
}
</script>

<template>
  <form @submit.prevent="done">
    <v-autocomplete v-model="from" :items="items" :label="SAY.edit.from" hide-details />
    <v-autocomplete v-model="to" :items="items" :label="SAY.edit.to" hide-details />
    <v-text-field
      v-model="color"
      class="paint"
      :label="SAY.edit.color"
      maxlength="80"
      hide-details
    />
    <v-select v-model="gauge" :items="GAUGES" :label="SAY.edit.size" hide-details />
    <p class="buttons">
      <v-btn type="submit" class="strong" height="52" :disabled="!ready || !changed || busy">{{
        wire ? SAY.edit.changeIt : SAY.edit.putItIn
      }}</v-btn>
      <v-btn
        v-if="wire"
        height="52"
        :disabled="busy"
        @click="emit('step', { kind: 'take-out-wire', wire: wire.id })"
        >{{ SAY.edit.takeItOut }}</v-btn
      >
    </p>
  </form>
</template>

<style scoped>
form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(220px, 100%), 1fr));
  gap: 10px;
  padding: 10px 0 14px;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  grid-column: 1 / -1;
  gap: 8px;
  margin: 0;
}
</style>
