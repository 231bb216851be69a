<script setup lang="ts">
import { computed } from 'vue'
import type { DropsView } from '../../api/client'
import {
  DROP_WORDS,
  acrossWords,
  drawnWords,
  ends,
  partsWords,
  sideWords,
  watts,
} from '../../words/drops'
import { volts } from '../../words/numbers'
import { SAY } from '../../words/say'
import { capital } from '../../words/units'

/** What the walk comes to: where the volts go, what that costs, and what to do. */
const props = defineProps<{ view: DropsView; id: string }>()
const walk = computed(() => props.view.walk)
const worst = computed(() => walk.value.worst.flatMap((i) => walk.value.spans[i] ?? []))
const facts = computed(() => {
  const rows: [string, string][] = [[SAY.drops.drawn, drawnWords(props.view)]]
  const { supply, ground } = walk.value
  if (supply) rows.push([SAY.drops.supply, sideWords(supply)])
  if (ground) rows.push([SAY.drops.back, sideWords(ground)])
  return rows
})
</script>

<template>
  <section class="verdict" :aria-label="SAY.drops.whatItIs">
    <h2 class="word" aria-live="polite">{{ DROP_WORDS[walk.word] }}</h2>
    <ol v-if="worst.length" class="worst">
      <li v-for="s in worst" :key="s.stretches.join()">
        <b
          >{{ acrossWords(view, ...ends(s)) }}: {{ volts(s.volts) }} V, {{ watts(s.watts) }}
          {{ SAY.drops.heat }}.</b
        >
        {{ capital(partsWords(view, s)) }}. {{ capital(SAY.drops.goodOne) }} loses
        {{ SAY.drops.upTo }} {{ volts(s.limit) }} V; shops go by {{ volts(s.trade) }} V.
      </li>
    </ol>
    <p v-if="walk.word === 'found'" class="note">
      {{ SAY.drops.cleanIt }}
      <RouterLink class="no-print" :to="`/jobs/${id}`">{{ SAY.common.backToTheJob }}</RouterLink>
    </p>
    <dl>
      <template v-for="[what, is] in facts" :key="what">
        <dt>{{ what }}</dt>
        <dd>{{ is }}</dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
.verdict {
  display: grid;
  gap: 12px;
}
.word {
  margin: 0;
  font-size: 30px;
  line-height: 1.15;
}
.worst {
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 8px;
  font-size: 17px;
}
.worst li {
  padding-left: 12px;
  border-left: 8px solid var(--plum);
}
.note {
  margin: 0;
  padding: 10px 14px;
  border-left: 8px solid var(--ochre);
  background: var(--panel);
  font-size: 17px;
}
.note a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--slate);
}
dl {
  margin: 0;
  display: grid;
  grid-template-columns: minmax(110px, auto) minmax(0, 1fr);
  gap: 4px 16px;
  font-size: 16px;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
}
</style>
