<script setup lang="ts">
import { computed } from 'vue'
import type { DiagnosisView } from '../api/client'
import { slipOf } from '../words/finding'
import { percent } from '../words/numbers'
import { sizeWords, suspectTitle } from '../words/units'
import { SAY } from '../words/say'

const props = defineProps<{ diagnosis: DiagnosisView; most: number }>()

const rows = computed(() =>
  props.diagnosis.suspects.slice(0, props.most).map((row) => ({
    title: suspectTitle(row),
    share: row.probability,
    change: Math.round(row.change * 100),
    detail: [
      row.units.length === 1 ? row.units[0]?.detail : 'can’t tell these apart from here',
      row.size && sizeWords(row.size),
    ]
      .filter(Boolean)
      .join(', '),
  })),
)
const more = computed(() => {
  const rest = props.diagnosis.suspects.slice(props.most)
  const share = rest.reduce((sum, r) => sum + r.probability, 0)
  return rest.length > 0 ? `and ${rest.length} more, ${percent(share)} together` : ''
})
const slip = computed(() => slipOf(props.diagnosis))
</script>

<template>
  <section v-if="rows.length" :aria-label="SAY.pictures.possibleCauses">
    <h2>{{ SAY.pictures.possibleCauses }}</h2>
    <ol>
      <li v-for="row in rows" :key="row.title">
        <span
          class="bar"
          :style="{ width: `${Math.max(row.share * 100, 1)}%` }"
          aria-hidden="true"
        />
        <b class="share mono">{{ percent(row.share) }}</b>
        <span class="what"
          >{{ row.title }}<small v-if="row.detail">{{ row.detail }}</small></span
        >
        <span v-if="row.change" class="change mono" :aria-label="`changed by ${row.change} points`"
          >{{ row.change > 0 ? '+' : '−' }}{{ Math.abs(row.change) }}</span
        >
      </li>
      <li v-if="slip" class="slip">
        <b class="share mono">{{ percent(slip) }}</b>
        <span class="what"
          >{{ SAY.pictures.theLastReadingWasBad
          }}<small>{{ SAY.pictures.probeSlippedOrAControl }}</small></span
        >
      </li>
    </ol>
    <p v-if="more" class="quiet">{{ more }}</p>
  </section>
</template>

<style scoped>
h2 {
  font-size: 16px;
  font-weight: 700;
  margin: 0 0 8px;
}
ol {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 5px;
}
li {
  position: relative;
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 36px;
  padding: 4px 10px;
  border-radius: 8px;
  background: var(--well);
  overflow: hidden;
}
.bar {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--plum-wash);
}
.share,
.what,
.change {
  position: relative;
}
.share {
  width: 42px;
  flex: none;
}
.what {
  flex: 1;
  line-height: 1.2;
}
small {
  display: block;
  font-size: 13px;
}
.slip {
  background: none;
  border: 2px dashed var(--rule);
}
p {
  margin: 6px 0 0;
  font-size: 14px;
}
</style>
