<script setup lang="ts">
import { SAY } from '../words/say'
</script>

<template>
  <aside class="usual" :aria-label="SAY.shell.notTraced">
    <b>{{ SAY.shell.notTraced }}</b>{{ ' ' }}{{ SAY.shell.asUsualForItsKind }}
  </aside>
</template>

<style scoped>
.usual {
  padding: 8px 14px;
  font-size: 16px;
  border: 2px dashed var(--rule);
  border-radius: 8px;
}
</style>
