<script setup lang="ts">
import { computed, ref } from 'vue'
import { useShortcuts } from '../../input/useShortcuts'
import FuseRuler from '../../pictures/FuseRuler.vue'
import UnsentNotice from '../../unsent/UnsentNotice.vue'
import {
  FUSE_WORDS,
  loadWords,
  rated,
  shortWords,
  unread,
  wrongOnes,
  type Fuse,
} from '../../words/fuses'
import { amps } from '../../words/numbers'
import { SAY } from '../../words/say'
import { capital, list, lower } from '../../words/units'
import JobPage from '../JobPage.vue'
import FuseRow from '../release/FuseRow.vue'
import WireTable from './WireTable.vue'
import { useFuses } from './useFuses'

const props = defineProps<{ id: string }>()
const { job, view, trouble, refused, outbox, read } = useFuses(props.id)
const keysShown = ref(false)

const wrong = computed(() => (view.value ? wrongOnes(view.value) : []))
const left = computed(() => (view.value ? unread(view.value) : []))
const verdict = computed(() => {
  if (!view.value?.fuses.length) return SAY.fuses.none
  if (wrong.value.length) return `${SAY.fuses.putRight}: ${list(wrong.value, 'and')}`
  return left.value.length ? SAY.fuses.readThem : SAY.fuses.allFine
})
const most = computed(() => {
  const own = (f: Fuse) =>
    Math.max(
      rated(f) ?? 0,
      f.called_for ?? 0,
      f.carried.lasting?.amps ?? 0,
      f.carried.moment?.amps ?? 0,
      f.thinnest?.amps ?? 0,
    )
  return 1.12 * Math.max(10, ...(view.value?.fuses.map(own) ?? []))
})
const sources = computed(() => {
  const { wire_source: wire = '', blow_source: blow = '' } = view.value ?? {}
  return SAY.fuses.from.replace('{wire}', wire).replace('{blow}', blow)
})

/** What a fuse carries and what it guards, a line each. */
function facts(f: Fuse): string[] {
  const controls = job.value?.controls ?? []
  const { lasting, moment } = f.carried
  const lines = [
    lasting ? `${SAY.fuses.carries} ${loadWords(controls, lasting)}.` : SAY.fuses.nothingOn,
  ]
  if (moment && moment.amps > 1.2 * (lasting?.amps ?? 0))
    lines.push(`${SAY.fuses.moment}: ${loadWords(controls, moment)}.`)
  if (f.thinnest)
    lines.push(
      `${SAY.fuses.thinnest} ${lower(f.thinnest.wire)}, ${SAY.fuses.goodFor} ${amps(f.thinnest.amps)} A.`,
    )
  if (f.short) lines.push(`${shortWords(f)}.`)
  return lines
}

useShortcuts((key) => {
  const fields = document.querySelectorAll<HTMLInputElement>('.fuse-card input')
  const field = fields[Number(key) - 1]
  if (key === '?') keysShown.value = true
  else if (field) field.focus()
  else return false
  return true
})
</script>

<template>
  <JobPage
    v-model:keys-shown="keysShown"
    v-bind="{ id, job, trouble }"
    :about="SAY.fuses.title"
    :ready="Boolean(view)"
    :working="SAY.fuses.working"
    :keys="[
      ['1 - 9', 'type the size of that fuse'],
      ['Enter', 'record it'],
      ['?', 'this list'],
    ]"
  >
    <template v-if="job && view">
      <UnsentNotice :outbox="outbox" />
      <section :aria-label="SAY.fuses.whatItIs">
        <h2 class="word" aria-live="polite">{{ verdict }}</h2>
        <p v-if="wrong.length && view.open">
          {{ SAY.fuses.fitRight }}
        </p>
      </section>
      <p v-if="refused" class="trouble" role="alert">{{ refused }}</p>
      <div class="two">
        <div class="side">
          <section v-for="f in view.fuses" :key="f.fuse" class="fuse-card" :aria-label="f.name">
            <FuseRow
              :fuse="{
                ...f,
                name: capital(f.breaker ? `${f.name}, ${SAY.fuses.breaker}` : f.name),
              }"
              :open="view.open && !f.breaker"
              @read="read(f.fuse, $event)"
            />
            <FuseRuler :fuse="f" :most="most" />
            <p v-for="w in f.words" :key="w" :class="f.wrong ? 'wrong' : 'note'">
              {{ FUSE_WORDS[w] }}.
            </p>
            <p v-for="line in facts(f)" :key="line" class="fact">{{ line }}</p>
          </section>
        </div>
        <WireTable :wires="view.wires" :file="`/api/v1/jobs/${id}/fuses.csv`" />
      </div>
      <p class="quiet">{{ sources }} {{ SAY.fuses.chargeNote }}</p>
    </template>
  </JobPage>
</template>

<style scoped>
.word {
  margin: 0 0 8px;
  font-size: 34px;
  line-height: 1.1;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.05fr);
  gap: 32px;
  align-items: start;
}
.side {
  display: grid;
  gap: 18px;
}
.fuse-card {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 4px;
  break-inside: avoid;
}
p {
  margin: 0;
  font-size: 17px;
}
.fact {
  font-size: 16px;
}
.wrong,
.note {
  padding-left: 12px;
  border-left: 8px solid var(--ochre);
}
.wrong {
  border-color: var(--plum);
  font-weight: 600;
}
.trouble {
  margin-bottom: 8px;
  padding: 10px 14px;
  border-left: 8px solid var(--plum);
  background: var(--panel);
  font-weight: 600;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
