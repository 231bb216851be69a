<script setup lang="ts">
import type { UnreadableView } from '../api/client'
import { SAY } from '../words/say'

/** What is stored and can't be read: said, and the rest works. */
defineProps<{ rows: UnreadableView[]; what: string }>()
</script>

<template>
  <details v-if="rows.length" class="unreadable">
    <summary>
      {{ rows.length }} {{ what }} can’t be read.
      {{ rows.length === 1 ? SAY.lists.itIs : SAY.lists.theyAre }} kept as stored; everything else
      works.
    </summary>
    <ul>
      <li v-for="(row, i) in rows" :key="i">
        <b v-if="row.place != null" class="mono">{{ row.place }}</b> {{ row.why }}
      </li>
    </ul>
    <p>{{ SAY.lists.tellWhoeverLooksAfterThe }}</p>
  </details>
</template>

<style scoped>
.unreadable {
  margin: 14px 0;
  padding: 10px 16px;
  border-left: 6px solid var(--ochre);
  background: var(--panel);
  font-size: 17px;
}
summary {
  min-height: 44px;
  padding-top: 8px;
  cursor: pointer;
}
p {
  margin: 6px 0 0;
}
</style>
