<script setup lang="ts">
import { SAY } from '../words/say'
/** Which page of a list is shown, and the way to the others. */
defineProps<{ pages: number; total: number; what: string }>()
const page = defineModel<number>({ required: true })
</script>

<template>
  <nav v-if="pages > 1" class="pager no-print" :aria-label="SAY.lists.pages">
    <v-btn :disabled="page === 0" @click="page -= 1">{{ SAY.lists.back }}</v-btn>
    <span role="status"
      >{{ SAY.lists.page }} <b class="mono">{{ page + 1 }}</b> of
      <b class="mono">{{ pages }}</b><small>{{ total }} {{ what }}</small></span
    >
    <v-btn :disabled="page + 1 >= pages" @click="page += 1">{{ SAY.common.next }}</v-btn>
  </nav>
</template>

<style scoped>
.pager {
  display: flex;
  justify-content: center;
  align-items: center;
  gap: 22px;
  margin: 18px 0;
  text-align: center;
  font-size: 18px;
}
small {
  display: block;
  font-size: 15px;
  color: var(--quiet);
}
</style>
