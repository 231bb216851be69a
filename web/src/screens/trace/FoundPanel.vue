<script setup lang="ts">
import type { HarnessTraceView } from '../../api/client'
import { SAY } from '../../words/say'
import { findingWords } from '../../words/trace'

/** What is not as drawn, and the button that puts all that was traced into the drawing. */
defineProps<{ view: HarnessTraceView; busy: boolean; kept?: number; name: string }>()
const emit = defineEmits<{ keep: [] }>()
</script>

<template>
  <section v-if="view.supply_grounded" class="short" role="alert">
    {{ SAY.trace.searchShort }}
  </section>
  <section v-if="view.findings.length" class="found" :aria-label="SAY.trace.notDrawnSo">
    <h2>{{ SAY.trace.notDrawnSo }}</h2>
    <ul>
      <li v-for="f in view.findings" :key="findingWords(f)" :data-finding="f.kind">
        {{ findingWords(f) }}
      </li>
    </ul>
  </section>
  <section v-if="view.to_keep" class="keep">
    <v-btn
      class="strong"
      height="52"
      :disabled="busy || view.supply_grounded"
      @click="emit('keep')"
      >{{ SAY.trace.keep }}</v-btn
    >
    <p class="quiet">{{ SAY.trace.tracingShows }}</p>
  </section>
  <p v-if="kept" class="kept" role="status">
    {{ SAY.trace.kept }} Revision {{ kept }}.
    <router-link :to="`/machines/${name}/harness`">{{ SAY.trace.lookAtTheMap }}</router-link>
  </p>
</template>

<style scoped>
section,
.kept {
  display: grid;
  gap: 8px;
  padding: 12px 16px;
  background: var(--panel);
  border-radius: 10px;
}
.found {
  border: 2px solid var(--ochre);
}
.short {
  font-size: 20px;
  font-weight: 700;
  border: 3px solid var(--plum);
}
.kept {
  border: 2px solid var(--moss);
}
.kept a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
h2,
p,
ul {
  margin: 0;
}
h2 {
  font-size: 20px;
}
li {
  font-size: 17px;
}
</style>
