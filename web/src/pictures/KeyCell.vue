<script setup lang="ts">
import { computed } from 'vue'
import type { CellStand, CellView, Subject } from '../api/client'
import { foundWords, pair, positionName } from '../words/bench'
import JoinGlyph from './JoinGlyph.vue'

/** One cell of a key table: what should be, fine, beside what was found, bold. */
const props = defineProps<{ cell: CellView; subject: Subject; now: boolean; picks: boolean }>()
const emit = defineEmits<{ pick: [] }>()

const MARK: { [stand in CellStand]: string } = {
  untried: '',
  found: '',
  fits: '✓',
  differs: '✕',
  'at-times': '✕',
  worn: '!',
  conflict: '?',
}
const SAYS: { [stand in CellStand]: string } = {
  untried: 'not tried',
  found: 'found',
  fits: 'as it should be',
  differs: 'not as it should be',
  'at-times': 'not the same every time',
  worn: 'worn',
  conflict: 'cannot hold together with the others',
}

/** Neither joined nor apart: words say it. */
const doubtful = computed(() => ['at-times', 'through'].includes(props.cell.found?.kind ?? ''))

const label = computed(() => {
  const { cell: c, subject } = props
  const should = c.expected == null ? '' : `should be ${c.expected ? 'closed' : 'open'}, `
  const found = foundWords(c)
  const follows = !c.found && c.follows != null ? ', follows from others' : ''
  return `${pair(c.one, c.other)}, ${positionName(subject, c.position)}: ${should}${found ? `found ${found}${follows}, ` : ''}${SAYS[c.stand]}`
})
</script>

<template>
  <button
    type="button"
    :class="[cell.stand, { now: now, follows: !cell.found && cell.follows != null }]"
    :aria-label="label"
    :aria-current="now ? 'step' : undefined"
    :disabled="!picks"
    @click="emit('pick')"
  >
    <JoinGlyph v-if="cell.expected != null" class="should" :made="cell.expected" />
    <span class="found"
      ><JoinGlyph v-if="!doubtful" bold :made="cell.follows ?? undefined" /><span class="said"
        ><b>{{ MARK[cell.stand] }}</b> {{ foundWords(cell) }}</span
      ></span
    >
  </button>
</template>

<style scoped>
button {
  display: flex;
  align-items: center;
  gap: 4px;
  width: 100%;
  min-height: 44px;
  padding: 0 4px;
  border: 2px solid transparent;
  border-radius: 8px;
  background: var(--well);
  color: var(--ink);
  text-align: left;
}
button:disabled {
  cursor: default;
}
.should {
  flex: 0 0 28px;
  margin-left: -2px;
  color: var(--quiet);
}
.found {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 5px;
  line-height: 1.1;
}
.said {
  font-size: 15px;
  white-space: nowrap;
}
.fits .found {
  color: var(--moss);
}
.untried {
  border: 2px dotted var(--dead);
  background: none;
}
.untried .found {
  color: var(--dead);
}
.follows .said {
  font-style: italic;
}
.follows .found :deep(.glyph path) {
  stroke-width: 2;
}
.differs,
.conflict {
  border: 3px solid var(--plum);
  color: var(--plum);
}
.at-times {
  gap: 2px;
  border: 3px dashed var(--plum);
  color: var(--plum);
}
.worn {
  border: 3px double var(--ochre);
  color: var(--ochre);
}
.differs b,
.at-times b,
.differs .said,
.at-times .said {
  font-weight: 700;
}
button.now {
  outline: 4px solid var(--ember);
  outline-offset: -1px;
}
@media (max-width: 1000px) {
  .said {
    white-space: normal;
  }
}
@media print {
  .said {
    font-size: 13px;
    white-space: nowrap;
  }
  button {
    min-height: 26px;
    background: none;
    border-color: var(--rule);
  }
  button.now {
    outline: none;
  }
}
</style>
