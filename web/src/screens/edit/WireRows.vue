<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Edit, EditedView, PlacedProblem } from '../../api/client'
import { capital } from '../../words/units'
import { SAY } from '../../words/say'
import WireForm from './WireForm.vue'

/** Every wire, one to open at a time, and a new one. */
const props = defineProps<{ view: EditedView; wanted: string; busy: boolean }>()
const emit = defineEmits<{ step: [edit: Edit] }>()
/** The wire that is open; "new" for one to be put in. */
const open = defineModel<string>('open')

const named = computed(() => new Map(props.view.terminals.map((t) => [t.address, t.name])))
const words = computed(() => props.wanted.toLowerCase().split(/\s+/).filter(Boolean))
const rows = computed(() =>
  props.view.wires
    .map((wire) => ({
      wire,
      from: named.value.get(wire.from) ?? wire.from,
      to: named.value.get(wire.to) ?? wire.to,
    }))
    .filter((row) => {
      const says = `${row.wire.id} ${row.wire.color} ${row.from} ${row.to}`.toLowerCase()
      return row.wire.id === open.value || words.value.every((w) => says.includes(w))
    }),
)
const wrong = (id: string): PlacedProblem[] =>
  props.view.problems.filter((p) => p.thing === 'wire' && p.id === id)

const [one, other] = [ref<string | null>(null), ref<string | null>(null)]
const pins = computed(() => props.view.terminals.map((t) => ({ title: t.name, value: t.address })))

function swap() {
  if (!one.value || !other.value || one.value === other.value) return
  emit('step', { kind: 'swap-pins', one: one.value, other: other.value })
  one.value = other.value = null
}

function toggle(id: string) {
  open.value = open.value === id ? undefined : id
}
</script>

<template>
  <section :aria-label="SAY.common.wires">
    <p class="top">
      <v-btn height="48" :aria-expanded="open === 'new'" data-new-wire @click="toggle('new')"
        ><kbd>n</kbd>&nbsp;{{ SAY.edit.newWire }}</v-btn
      >
    </p>
    <WireForm
      v-if="open === 'new'"
      :terminals="view.terminals"
      :busy="busy"
      @step="emit('step', $event)"
    />
    <details class="swap">
      <summary>{{ SAY.edit.swapTwoPins }}</summary>
      <form @submit.prevent="swap">
        <v-autocomplete v-model="one" :items="pins" :label="SAY.edit.onePin" hide-details />
        <v-autocomplete v-model="other" :items="pins" :label="SAY.edit.otherPin" hide-details />
        <v-btn type="submit" height="52" :disabled="busy || !one || !other || one === other">{{
          SAY.edit.swapThem
        }}</v-btn>
      </form>
    </details>
    <p v-if="!rows.length" class="quiet">{{ SAY.edit.noneLikeThat }}</p>
    <ul>
      <li v-for="{ wire, from, to } in rows" :key="wire.id" :class="{ edited: wire.edited }">
        <button
          type="button"
          :aria-expanded="open === wire.id"
          :data-wire="wire.id"
          @click="toggle(wire.id)"
        >
          <b>{{ capital(wire.color ?? SAY.edit.noColor) }}</b>
          <span>{{ from }} <span aria-hidden="true">→</span> {{ to }}</span>
          <small class="quiet">{{ wire.id }} · {{ wire.source }}</small>
        </button>
        <p v-for="p in wrong(wire.id)" :key="p.sentence" class="wrong">{{ p.sentence }}</p>
        <WireForm
          v-if="open === wire.id"
          :key="`${wire.from} ${wire.to} ${wire.color} ${wire.gauge}`"
          :wire="wire"
          :terminals="view.terminals"
          :busy="busy"
          @step="emit('step', $event)"
        />
      </li>
    </ul>
  </section>
</template>

<style scoped src="./rows.css"></style>
<style scoped>
.top {
  margin: 0 0 8px;
}
.swap summary {
  min-height: 44px;
  padding: 10px 0;
  font-size: 17px;
  cursor: pointer;
}
.swap form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(220px, 100%), 1fr));
  gap: 10px;
  padding-bottom: 12px;
}
</style>
