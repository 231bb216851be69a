<script setup lang="ts">
import { BAD, LOAD_WORDS, type Load } from '../../words/loads'
import { SAY } from '../../words/say'
import { capital } from '../../words/units'

/** Everything that the machine feeds, each with what it comes to. */
defineProps<{ loads: Load[]; chosen: string | undefined }>()
const emit = defineEmits<{ choose: [id: string] }>()
</script>

<template>
  <ul class="which" :aria-label="SAY.loads.wantLoad">
    <li v-for="(l, i) in loads" :key="l.id">
      <v-btn
        height="auto"
        :data-load="l.id"
        :class="{ strong: l.id === chosen }"
        :aria-pressed="l.id === chosen"
        @click="emit('choose', l.id)"
      >
        <kbd v-if="i < 9">{{ i + 1 }}</kbd>
        <span class="name">{{ capital(l.name) }}</span>
        <span
          class="is"
          :class="{ bad: BAD.includes(l.standing.word), good: l.standing.word === 'good' }"
          >{{
            l.standing.word === 'not-read' ? '' : LOAD_WORDS[l.standing.word].split(':')[0]
          }}</span
        >
      </v-btn>
    </li>
  </ul>
</template>

<style scoped>
.which {
  display: grid;
  gap: 6px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.which .v-btn {
  width: 100%;
  min-height: 48px;
  padding: 6px 12px;
  justify-content: flex-start;
  text-align: left;
}
.which :deep(.v-btn__content) {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-start;
  gap: 2px 10px;
  white-space: normal;
}
.is {
  font-weight: 400;
}
.which .v-btn:not(.strong) .is.bad {
  color: var(--plum);
}
.which .v-btn:not(.strong) .is.good {
  color: var(--moss);
}
@media (max-width: 900px) {
  .which {
    grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  }
}
</style>
