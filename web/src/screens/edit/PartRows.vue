<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Edit, EditedContact, EditedPart, EditedView } from '../../api/client'
import { PART_KIND } from '../../words/codes'
import { capital } from '../../words/units'
import { SAY } from '../../words/say'

/** Every part: its name, whether its contacts are open or closed at rest, another like it, and out with it. */
const props = defineProps<{ view: EditedView; wanted: string; busy: boolean }>()
const emit = defineEmits<{ step: [edit: Edit] }>()
const open = defineModel<string>('open')

const words = computed(() => props.wanted.toLowerCase().split(/\s+/).filter(Boolean))
const rows = computed(() =>
  props.view.parts.filter((part) => {
    const says = `${part.id} ${part.name} ${PART_KIND[part.kind]}`.toLowerCase()
    return part.id === open.value || words.value.every((w) => says.includes(w))
  }),
)
const wrong = (id: string) => props.view.problems.filter((p) => p.thing === 'part' && p.id === id)

const name = ref('')
const another = ref('')

function toggle(part: EditedPart) {
  const closes = open.value === part.id
  open.value = closes ? undefined : part.id
  name.value = part.name
  another.value = ''
}

function rename(part: EditedPart) {
  if (name.value.trim() && name.value.trim() !== part.name)
    emit('step', { kind: 'rename-part', part: part.id, name: name.value.trim() })
}

function copy(part: EditedPart) {
  if (another.value.trim())
    emit('step', { kind: 'add-part', like: part.id, name: another.value.trim() })
}

function turn(contact: EditedContact, to: boolean) {
  if (contact.open_at_rest !== to) emit('step', { kind: 'turn-contact', contact: contact.address })
}
</script>

<template>
  <section :aria-label="SAY.machine.parts">
    <p v-if="!rows.length" class="quiet">{{ SAY.edit.noneLikeThat }}</p>
    <ul>
      <li v-for="part in rows" :key="part.id">
        <button
          type="button"
          :aria-expanded="open === part.id"
          :data-part="part.id"
          @click="toggle(part)"
        >
          <b>{{ capital(part.name) }}</b>
          <span>{{ PART_KIND[part.kind] }}</span>
          <small class="quiet">{{ part.wires }} {{ part.wires === 1 ? 'wire' : 'wires' }}</small>
        </button>
        <p v-for="p in wrong(part.id)" :key="p.sentence" class="wrong">{{ p.sentence }}</p>
        <div v-if="open === part.id" class="form">
          <fieldset v-for="c in part.contacts" :key="c.address" :data-contact="c.address">
            <legend>{{ capital(c.name) }}</legend>
            <template v-if="c.open_at_rest != null">
              <v-btn
                height="48"
                :aria-pressed="c.open_at_rest"
                :disabled="busy"
                @click="turn(c, true)"
                >{{ SAY.edit.openAtRest }}</v-btn
              >
              <v-btn
                height="48"
                :aria-pressed="!c.open_at_rest"
                :disabled="busy"
                @click="turn(c, false)"
                >{{ SAY.edit.closedAtRest }}</v-btn
              >
            </template>
            <p v-else class="quiet">Closed when {{ c.closed_when }}</p>
          </fieldset>
          <form @submit.prevent="rename(part)">
            <v-text-field v-model="name" :label="SAY.edit.name" maxlength="80" hide-details />
            <v-btn type="submit" height="52" :disabled="busy || name.trim() === part.name">{{
              SAY.edit.rename
            }}</v-btn>
          </form>
          <form v-if="part.copies" @submit.prevent="copy(part)">
            <v-text-field
              v-model="another"
              :label="SAY.edit.anotherLikeIt"
              maxlength="80"
              hide-details
            />
            <v-btn type="submit" height="52" :disabled="busy || !another.trim()">{{
              SAY.edit.addIt
            }}</v-btn>
          </form>
          <p>
            <v-btn
              height="48"
              :disabled="busy"
              @click="emit('step', { kind: 'take-out-part', part: part.id })"
              >{{ SAY.edit.takeOutPart }}</v-btn
            >
          </p>
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped src="./rows.css"></style>
<style scoped>
ul {
  --row: minmax(0, 1.4fr) minmax(0, 1fr) auto;
}
.form {
  display: grid;
  gap: 12px;
  padding: 8px 0 16px;
}
.form form {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
}
fieldset {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  padding: 0;
  margin: 0;
  border: 0;
}
fieldset :deep(.v-btn[aria-pressed='true']) {
  border: 3px solid var(--ember);
  font-weight: 700;
}
legend {
  padding-bottom: 4px;
  font-weight: 600;
}
p {
  margin: 0;
}
</style>
