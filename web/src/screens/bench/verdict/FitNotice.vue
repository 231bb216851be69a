<script setup lang="ts">
import type { BenchView } from '../../../api/client'
import { unfitWords } from '../../../words/bench'
import { SAY } from '../../../words/say'

/** Whether a new part is to be fitted. */
defineProps<{ view: BenchView }>()
</script>

<template>
  <section v-if="view.fit" :aria-label="SAY.bench.newPart">
    <h2>{{ view.fit.against.length ? SAY.bench.notToBeFittedYet : SAY.bench.fitToBeFitted }}</h2>
    <ul>
      <li v-for="(u, i) in view.fit.against" :key="i">{{ unfitWords(u) }}</li>
    </ul>
  </section>
</template>

<style scoped>
section {
  padding: 8px 14px;
  border-left: 8px solid var(--ink);
  background: var(--panel);
}
h2 {
  margin: 0;
  font-size: 19px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  margin-top: 4px;
  line-height: 1.3;
}
</style>
