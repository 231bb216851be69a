<script setup lang="ts">
import { clock } from '../words/numbers'
import { SAY } from '../words/say'

/** What was read so far, each with who read it and a way to take it back, and all of it as a file. */
defineProps<{
  readings: { entry: string; says: string; by: string; at?: string | null; counts: boolean }[]
  open: boolean
  /** What is said of one that counts no more. */
  gone: string
  /** What is said where nothing was read. */
  empty: string
  file: string
  fileName: string
}>()
const emit = defineEmits<{ back: [entry: string] }>()
</script>

<template>
  <section :aria-label="SAY.common.soFar">
    <h2>{{ SAY.common.soFar }}</h2>
    <p v-if="!readings.length" class="quiet">{{ empty }}</p>
    <ol>
      <li v-for="r in readings" :key="r.entry" :class="{ gone: !r.counts }">
        <span
          >{{ r.says }}
          <span class="quiet line"
            >{{ r.by }}{{ r.at ? `, ${clock(r.at)}` : '' }}{{ r.counts ? '' : ` · ${gone}` }}</span
          ></span
        >
        <v-btn
          v-if="open"
          class="no-print"
          height="44"
          variant="text"
          :aria-label="`${SAY.common.undo}: ${r.says}`"
          @click="emit('back', r.entry)"
          >{{ SAY.common.undo }}</v-btn
        >
      </li>
    </ol>
    <a v-if="readings.length" class="no-print file" :href="file">{{ fileName }}</a>
  </section>
</template>

<style scoped>
h2 {
  margin: 0;
  font-size: 22px;
}
p {
  margin: 0;
}
ol {
  margin: 8px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  min-height: 52px;
  border-top: 1px solid var(--rule);
  font-size: 17px;
}
.gone {
  color: var(--quiet);
}
.line {
  display: block;
}
.file {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--slate);
}
</style>
