<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { computed, ref } from 'vue'
import {
  ApiError,
  api,
  benchTableAddress,
  type BenchLogView,
  type BenchView,
} from '../../../api/client'
import { pair, positionName } from '../../../words/bench'
import { clock } from '../../../words/numbers'
import { usePerson } from '../../usePerson'
import BenchColumns from './BenchColumns.vue'
import { SAY } from '../../../words/say'

/** Everything that was written down, the last on top; and as a table, in and out. */
const props = defineProps<{ view: BenchView; open: boolean }>()
const emit = defineEmits<{
  takeBack: [entry: string, reason: string]
  brought: [view: BenchView]
}>()

const { person } = usePerson()
const entries = computed(() => [...props.view.log].reverse())
const text = ref('')
const said = ref('')
const left = ref<string[]>([])
const trouble = ref('')
const busy = ref(false)
let id = uuid()

/** A beep is typed as one word or another. */
function typedWords(typed = ''): string {
  if (/^(buzz|beep)/i.test(typed)) return 'beeps'
  if (/^(silent|no)/i.test(typed)) return 'no beep'
  return typed || 'imported'
}

function words({ entry: e }: BenchLogView): string {
  switch (e.kind) {
    case 'leads':
      return `Leads: touching ${e.touching}, apart ${e.apart}`
    case 'probe': {
      const sprung = e.sprung_from ? `, sprung back from ${e.sprung_from}` : ''
      const by = e.worked_by === 'machine' ? ', worked by the machine' : ''
      const at = positionName(props.view.subject, e.position)
      return `${pair(e.from, e.to)} in ${at}${sprung}${by}: ${typedWords(e.typed)}`
    }
    case 'stroke':
      return `${pair(e.from, e.to)} at ${e.travel}%, going ${e.way}: ${e.made ? 'closed' : 'open'}`
    case 'wire-moved':
      return `Wire ${e.wire} ${e.to ? `into cavity ${e.to}` : 'held aside'}`
    case 'wire-checked':
      return `Wires ${pair(e.from, e.to)} in ${e.position}: ${e.made ? 'closed' : 'open'}`
  }
}

async function choose(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) text.value = await file.text()
}
async function bringIn() {
  if (busy.value) return
  busy.value = true
  trouble.value = ''
  try {
    const brought = await api.bringTable(props.view.id, { id, by: person.value, text: text.value })
    const added = brought.added.length ? ` Added to the switch: ${brought.added.join(', ')}.` : ''
    said.value = `${brought.taken} ${brought.taken === 1 ? 'line' : 'lines'} imported.${added}`
    left.value = brought.left_out
    text.value = ''
    id = uuid()
    emit('brought', brought.view)
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = `${error.message} What you chose is kept.`
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <BenchColumns>
    <section :aria-label="SAY.bench.log">
      <h2>{{ SAY.bench.log }}</h2>
      <p v-if="!entries.length" class="quiet">{{ SAY.bench.nothingRecordedYet }}</p>
      <p v-if="view.entries > view.log.length" class="quiet">
        The last {{ view.log.length }} of {{ view.entries }} entries.
      </p>
      <ol>
        <li v-for="e in entries" :key="e.id" :class="{ voided: e.voided }">
          <span class="mono">{{ e.sequence }}</span>
          <span
            ><span class="what">{{ words(e) }}</span
            ><small
              >{{ e.recorded_by }},
              {{ e.recorded_at ? clock(e.recorded_at) : SAY.bench.timeNotKnown
              }}<template v-if="e.voided">
                · {{ e.voided.reason }}, {{ e.voided.by }}</template
              ></small
            ></span
          >
          <v-btn
            v-if="open && !e.voided"
            size="small"
            height="44"
            :aria-label="`Undo entry ${e.sequence}`"
            @click="emit('takeBack', e.id, 'Taken back')"
            >{{ SAY.common.undo }}</v-btn
          >
        </li>
      </ol>
    </section>
    <template #aside>
      <div class="side no-print">
        <h2>{{ SAY.bench.asATable }}</h2>
        <p>
          <a :href="benchTableAddress(view.id)" download>{{ SAY.bench.saveReadingsAsCsv }}</a>
        </p>
        <form v-if="open" @submit.prevent="bringIn">
          <p class="quiet">
            {{ SAY.bench.aLineEachTimeA }} <code>position,from,to,reading</code>, and perhaps
            <code>after,by</code>. A reading is beep, no beep or ohms.
          </p>
          <label class="file"
            >{{ SAY.bench.aTableCsv }}
            <input type="file" accept=".csv,text/csv,text/plain" @change="choose"
          /></label>
          <v-textarea v-model="text" :label="SAY.common.orPasteItHere" rows="4" />
          <v-btn type="submit" :disabled="busy || !text.trim()">{{ SAY.common.import }}</v-btn>
        </form>
        <p v-if="said" role="status">{{ said }}</p>
        <div v-if="left.length" class="left">
          <b>{{ SAY.bench.leftOut }}</b>
          <ul>
            <li v-for="l in left.slice(0, 30)" :key="l">{{ l }}</li>
          </ul>
          <p v-if="left.length > 30">and {{ left.length - 30 }} more.</p>
        </div>
        <p v-if="trouble" role="alert" class="trouble">{{ trouble }}</p>
      </div>
    </template>
  </BenchColumns>
</template>

<style scoped>
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
ol li {
  display: grid;
  grid-template-columns: 44px 1fr auto;
  align-items: center;
  min-height: 48px;
  border-top: 1px solid var(--rule);
  font-size: 17px;
}
small {
  display: block;
  font-size: 14px;
  color: var(--quiet);
}
.voided .what {
  text-decoration: line-through;
}
.side a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.side,
form {
  display: grid;
  gap: 8px;
}
p {
  margin: 0;
}
.file input {
  min-height: 44px;
}
.trouble {
  color: var(--plum);
  font-weight: 600;
}
</style>
