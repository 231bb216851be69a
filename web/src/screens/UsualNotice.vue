<script setup lang="ts">
import { SAY } from '../words/say'

/** Nobody has traced it; where it is kept already, that can be begun here. */
defineProps<{ machine?: string }>()
</script>

<template>
  <aside class="usual" :aria-label="SAY.shell.notTraced">
    <b>{{ SAY.shell.notTraced }}</b>{{ ' ' }}{{ SAY.shell.asUsualForItsKind }}
    <router-link v-if="machine" class="no-print" :to="`/machines/${machine}/trace`">{{
      SAY.trace.traceItsWires
    }}</router-link>
  </aside>
</template>

<style scoped>
.usual {
  padding: 8px 14px;
  font-size: 16px;
  border: 2px dashed var(--rule);
  border-radius: 8px;
}
a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  margin-left: 8px;
  color: var(--slate);
}
</style>
