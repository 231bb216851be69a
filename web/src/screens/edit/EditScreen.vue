<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import { exportAddress, type Edit, type PlacedProblem } from '../../api/client'
import { useShortcuts } from '../../input/useShortcuts'
import { EDIT_KEYS } from '../../words/keys'
import { SAY } from '../../words/say'
import ShortcutSheet from '../ShortcutSheet.vue'
import TopBar from '../TopBar.vue'
import ChangesPanel from './ChangesPanel.vue'
import PartRows from './PartRows.vue'
import WireRows from './WireRows.vue'
import { useEdit } from './useEdit'

const props = defineProps<{ name: string }>()
const edit = useEdit(props.name)
const { steps, source, undone, detail, view, errors, trouble, busy, done } = edit
onMounted(edit.load)

const SHOWN = [
  { id: 'wires', title: SAY.common.wires },
  { id: 'parts', title: SAY.machine.parts },
] as const
const shown = ref<(typeof SHOWN)[number]['id']>('wires')
const wanted = ref('')
const openWire = ref<string>()
const openPart = ref<string>()
const keys = ref(false)
const count = computed(
  () => `${steps.value.length} ${steps.value.length === 1 ? 'change' : 'changes'}`,
)
const mistakes = computed(() => trouble.value?.problem?.errors ?? [])

const SOURCES = [
  { title: SAY.edit.seenOnTheMachine, value: 'traced' },
  { title: SAY.edit.fromADrawing, value: 'drawing' },
  { title: SAY.edit.fromTheManual, value: 'manual' },
] as const

async function step(what: Edit) {
  const taken = await edit.add(what)
  if (taken && (what.kind === 'add-wire' || what.kind === 'take-out-wire'))
    openWire.value = undefined
}

async function show(problem: PlacedProblem) {
  shown.value = problem.thing === 'wire' ? 'wires' : 'parts'
  if (problem.thing === 'wire') openWire.value = problem.id
  else openPart.value = problem.id
  await nextTick()
  const row = document.querySelector(`[data-wire="${problem.id}"], [data-part="${problem.id}"]`)
  row?.scrollIntoView({ block: 'center' })
}

async function bringIn(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) await edit.readList(await file.text())
}

useShortcuts((key) => {
  if (key === '?') keys.value = true
  else if (key === 'u') void edit.undo()
  else if (key === 'r') void edit.redo()
  else if (key === 'n') {
    shown.value = 'wires'
    openWire.value = openWire.value === 'new' ? undefined : 'new'
  } else return false
  return true
})
</script>

<template>
  <TopBar>
    <h1>{{ SAY.edit.title }}</h1>
    <span v-if="detail" class="quiet"
      >{{ detail.make }} {{ detail.model }}, revision {{ detail.revision }}</span
    >
    <template #right>
      <v-btn variant="text" :to="`/machines/${name}`">{{ SAY.trace.backToTheMachine }}</v-btn>
    </template>
  </TopBar>
  <div v-if="trouble" class="trouble" role="alert">
    <p>{{ trouble.message }}</p>
    <ul v-if="mistakes.length > 1">
      <li v-for="e in mistakes.slice(0, 12)" :key="`${e.field} ${e.sentence}`">
        {{ e.field }}: {{ e.sentence }}
      </li>
    </ul>
    <v-btn v-if="trouble.status === 409" height="48" :disabled="busy" @click="edit.load">{{
      SAY.edit.takeTheNewOne
    }}</v-btn>
  </div>
  <p v-if="done" class="done" role="status">
    {{ SAY.edit.kept }} Revision {{ done }}.
    <router-link :to="`/machines/${name}/revisions`">{{
      SAY.revisions.seeWhatChanged
    }}</router-link>
  </p>
  <main v-if="view && detail" class="two">
    <div class="things">
      <div class="head">
        <v-select
          :model-value="source"
          :items="[...SOURCES]"
          :label="SAY.edit.howDoYouKnow"
          hide-details
          @update:model-value="edit.setSource($event)"
        />
        <v-text-field v-model="wanted" type="search" :label="SAY.edit.search" hide-details />
      </div>
      <div class="which" role="group" :aria-label="SAY.edit.title">
        <v-btn
          v-for="s in SHOWN"
          :key="s.id"
          height="48"
          :aria-pressed="shown === s.id"
          :data-shown="s.id"
          @click="shown = s.id"
          >{{ s.title }}</v-btn
        >
      </div>
      <WireRows
        v-if="shown === 'wires'"
        v-model:open="openWire"
        :view="view"
        :wanted="wanted"
        :busy="busy"
        @step="step"
      />
      <PartRows
        v-else
        v-model:open="openPart"
        :view="view"
        :wanted="wanted"
        :busy="busy"
        @step="step"
      />
      <details class="list">
        <summary>{{ SAY.edit.wireListAsAFile }}</summary>
        <p>{{ SAY.edit.openItInASpreadsheet }}</p>
        <p>
          <a :href="exportAddress(name, 'wires.csv')" download>{{ SAY.machine.wiresAsCsv }}</a>
        </p>
        <p v-if="steps.length" class="quiet">{{ SAY.edit.saveFirst }}</p>
        <label v-else class="file"
          >{{ SAY.edit.importWireList }}
          <input type="file" accept=".csv,text/csv" @change="bringIn"
        /></label>
      </details>
    </div>
    <p v-if="steps.length" class="short-cut no-print">
      <a href="#changes"
        >{{ count }}<template v-if="errors.length">, {{ errors.length }} to fix</template></a
      >
      <v-btn height="44" :disabled="busy" @click="edit.undo">{{ SAY.common.undo }}</v-btn>
    </p>
    <ChangesPanel
      id="changes"
      class="panel"
      :view="view"
      :detail="detail"
      :undone="undone.length"
      :busy="busy"
      @undo="edit.undo"
      @redo="edit.redo"
      @forget="edit.forget"
      @keep="edit.keep"
      @show="show"
    />
    <p class="quiet last">{{ SAY.common.kelvokDoesNotCertifyThis }}</p>
  </main>
  <p v-else-if="!trouble" class="quiet loading" role="status">{{ SAY.common.loading }}</p>
  <p class="seen-by-readers-only" aria-live="polite">
    {{ steps.length ? count : '' }}
  </p>
  <ShortcutSheet v-if="keys" :keys="EDIT_KEYS" @close="keys = false" />
</template>

<style scoped>
h1 {
  display: inline;
  margin-right: 8px;
  font-size: 17px;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr);
  gap: 24px;
  align-items: start;
  padding: 12px 20px 24px;
}
.things {
  display: grid;
  gap: 12px;
}
.head {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 10px;
}
.which {
  display: flex;
  gap: 8px;
}
.which :deep(.v-btn[aria-pressed='true']) {
  border: 3px solid var(--ember);
  font-weight: 700;
}
.panel {
  position: sticky;
  top: 68px;
  max-height: calc(100vh - 80px);
  overflow-y: auto;
}
/* Where what was changed stands below the list, the way there stays in sight. */
.short-cut {
  position: sticky;
  bottom: 0;
  z-index: 1;
  display: none;
  gap: 16px;
  align-items: center;
  justify-content: space-between;
  padding: 8px 12px;
  font-size: 18px;
  font-weight: 600;
  background: var(--panel);
  border-top: 3px solid var(--ember);
}
.short-cut a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.last {
  grid-column: 1 / -1;
}
.list summary {
  min-height: 44px;
  padding: 10px 0;
  font-size: 17px;
  cursor: pointer;
}
.list a,
.done a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.file {
  display: grid;
  gap: 6px;
  justify-items: start;
  font-weight: 600;
}
.file input {
  min-height: 44px;
}
p {
  margin: 0;
}
.trouble {
  padding: 10px 14px;
  font-weight: 600;
  border-left: 8px solid var(--plum);
}
.done {
  padding: 6px 14px;
  font-size: 18px;
  border-left: 8px solid var(--moss);
}
.loading {
  padding: 20px;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
  .short-cut {
    display: flex;
  }
  .panel {
    position: static;
    max-height: none;
    scroll-margin-top: 68px;
  }
}
@media (max-width: 500px) {
  .head {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
