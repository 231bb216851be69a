<script setup lang="ts">
import { computed, ref } from 'vue'
import { storyAddress, type DiagnosisView, type EvidenceView, type JobView } from '../../api/client'
import { clock } from '../../words/numbers'
import { observed } from '../../words/observed'
import { standsWords } from '../../words/setUps'
import { conditionWords } from '../../words/tests'
import { list, lower, unitName } from '../../words/units'
import { SAY } from '../../words/say'

const props = defineProps<{ job: JobView; diagnosis: DiagnosisView; busy: boolean }>()
const emit = defineEmits<{
  void: [entry: string, reason: string]
  again: [entry: EvidenceView]
}>()

const REASONS = ['Mistyped', 'Wrong point', 'Control not held']
/** The entry that is being taken back. */
const voiding = ref<string>()

function proved(e: EvidenceView): string {
  const judged = props.diagnosis.judgements.find((j) => j.sequence === e.sequence)
  if (!judged || e.entry.observation.kind !== 'reading') return ''
  if (judged.on_live) return 'on a live circuit: tells nothing, and can ruin the meter'
  if (judged.slip > 0.5) return 'looks like a bad reading: measure again'
  if (!judged.sound) return 'not what a good circuit reads'
  const names = judged.cleared.map((c) => lower(c.name.split(',')[0]!))
  return names.length ? `OK up to here; ${list([...new Set(names)], 'and')} good` : 'OK up to here'
}

/** How it is known, and whether it is always so. */
function how(e: EvidenceView): string {
  const told = e.entry.source === 'told' ? ['customer says'] : []
  const often = e.entry.times_an_hour
  const times = often ? `off and on, about ${often} times an hour` : 'off and on'
  return [...told, ...(e.entry.at_times ? [times] : [])].join(', ')
}

const entries = computed(() =>
  [
    ...props.job.evidence.map((e) => ({
      id: e.id,
      sequence: e.sequence,
      at: e.recorded_at,
      by: e.recorded_by,
      words: observed(props.job, e),
      proved: proved(e),
      set: conditionWords(props.job.controls, e.entry.condition, e.entry.engine, e.entry.idle),
      undo: (e.entry.set_up ?? []).map((s) => standsWords(props.job, s)).join(', '),
      how: how(e),
      voided: e.voided,
      reading: true,
      entry: e as EvidenceView | undefined,
    })),
    ...props.job.verdicts.map((v) => ({
      id: v.id,
      sequence: v.sequence,
      at: v.recorded_at,
      by: v.recorded_by,
      words: `Fault found: ${list(v.units.map(unitName), 'or')}.`,
      proved: '',
      set: '',
      undo: '',
      how: '',
      voided: v.voided,
      reading: false,
      entry: undefined,
    })),
  ].sort((a, b) => b.sequence - a.sequence),
)

const sought = ref('')
const shown = computed(() => {
  const words = sought.value.trim().toLowerCase().split(/\s+/).filter(Boolean)
  const text = (e: (typeof entries.value)[number]) =>
    `${e.words} ${e.proved} ${e.set} ${e.undo} ${e.by} ${e.how}`.toLowerCase()
  return entries.value.filter((e) => words.every((w) => text(e).includes(w)))
})

/** Opens the taking back of the last entry that stands. */
function voidLast() {
  voiding.value = props.job.evidence.filter((e) => !e.voided).at(-1)?.id
}

function takeBack(entry: string, reason: string) {
  voiding.value = undefined
  emit('void', entry, reason)
}

defineExpose({ voidLast })
</script>

<template>
  <section :aria-label="SAY.common.whatWasDone">
    <div class="head">
      <h2>{{ SAY.common.whatWasDone }}</h2>
      <span v-if="entries.length" class="tools no-print">
        <input
          v-model="sought"
          type="search"
          :placeholder="SAY.job.search"
          :aria-label="SAY.job.searchThisJob"
        />
        <a :href="storyAddress(job.id, 'json')" download>{{ SAY.job.json }}</a>
        <a :href="storyAddress(job.id, 'csv')" download>{{ SAY.job.csv }}</a>
      </span>
    </div>
    <p v-if="!entries.length" class="quiet">{{ SAY.job.nothingRecordedYetStartWith }}</p>
    <p v-if="entries.length && !shown.length" class="quiet">{{ SAY.job.nothingLikeThatInThis }}</p>
    <ol reversed>
      <li v-for="e in shown" :key="e.id" :class="{ voided: e.voided }">
        <time class="mono" :datetime="e.at ?? undefined">{{ e.at ? clock(e.at) : '--:--' }}</time>
        <div class="what">
          <component :is="e.voided ? 's' : 'span'"
            ><b>{{ e.words }}</b></component
          >
          <span v-if="e.proved && !e.voided" class="proved">{{ e.proved }}</span>
          <span v-if="e.how" class="proved">{{ e.how }}</span>
          <span v-if="e.undo" class="undo">{{ e.undo }}</span>
          <small
            >{{ e.set }}<template v-if="e.set"> · </template>{{ e.by
            }}<template v-if="e.voided">
              · undone by {{ e.voided.by }}: {{ e.voided.reason }}</template
            ></small
          >
        </div>
        <v-btn
          v-if="e.reading && !e.voided && voiding !== e.id && job.status === 'open'"
          class="no-print"
          variant="text"
          :aria-label="`Undo ${e.words}`"
          @click="voiding = e.id"
          >{{ SAY.common.undo }}</v-btn
        >
        <v-btn
          v-if="e.voided && e.entry && job.status === 'open'"
          class="no-print"
          variant="text"
          :disabled="busy"
          :aria-label="`Put back in ${e.words}`"
          @click="emit('again', e.entry)"
          >{{ SAY.job.putBackIn }}</v-btn
        >
        <div
          v-if="voiding === e.id"
          class="reasons no-print"
          role="group"
          :aria-label="SAY.job.whyUndoIt"
        >
          <v-btn
            v-for="(reason, i) in REASONS"
            :key="reason"
            :autofocus="i === 0"
            :disabled="busy"
            @click="takeBack(e.id, reason)"
            >{{ reason }}</v-btn
          >
          <v-btn variant="text" @click="voiding = undefined">{{ SAY.common.keepIt }}</v-btn>
        </div>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: center;
  gap: 4px 16px;
}
.tools {
  display: flex;
  align-items: center;
  gap: 12px;
}
.tools a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.tools input {
  min-height: 44px;
  padding: 0 12px;
  border: 1px solid var(--dead);
  border-radius: 10px;
  background: var(--panel);
}
h2 {
  font-size: 16px;
  margin: 0 0 4px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 14px;
  min-height: 48px;
  border-top: 1px solid var(--rule);
}
time {
  font-weight: 700;
}
.what {
  flex: 1 1 320px;
  padding: 5px 0;
}
.proved {
  margin-left: 10px;
}
.undo {
  margin-left: 10px;
  padding: 0 8px;
  border: 2px dashed var(--ochre);
  border-radius: 6px;
}
small {
  display: block;
  font-size: 14px;
  color: var(--quiet);
}
.voided .what {
  color: var(--quiet);
}
.reasons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  padding-bottom: 8px;
}
</style>
