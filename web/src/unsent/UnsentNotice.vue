<script setup lang="ts">
import { computed } from 'vue'
import type { PointView } from '../api/client'
import type { Pending } from '../api/useOutbox'
import { entryWords } from './words'
import { SAY } from '../words/say'

/** What was kept on this device and could not be sent: it stays until somebody decides. */
const props = defineProps<{
  outbox: Pending
  /** The machine's test points, where the entries are of one. */
  points?: PointView[]
}>()

const count = computed(() => props.outbox.refused.value.length + props.outbox.damaged.value.length)

function named(terminal: string): string {
  return props.points?.find((p) => p.terminal === terminal)?.name ?? terminal
}
</script>

<template>
  <section
    v-if="count || outbox.fleeting.value"
    class="unsent no-print"
    :aria-label="SAY.unsent.notSent"
    role="alert"
  >
    <p v-if="outbox.fleeting.value">
      <b>{{ SAY.unsent.thisDeviceCantStoreEntries }}</b> {{ SAY.unsent.keepThisPageOpenUntil }}
    </p>
    <template v-if="count">
      <h2>
        {{ count === 1 ? SAY.unsent.n1EntryIsNotRecorded : `${count} entries are not recorded` }}
      </h2>
      <ul>
        <li v-for="u in outbox.refused.value" :key="u.entry.id">
          <span class="what"
            ><b>{{ entryWords(u.entry, named) }}</b
            ><small>{{ u.entry.by }}. {{ u.refused?.message }}</small></span
          >
          <v-btn class="strong" @click="outbox.again(u.entry.id)">{{ SAY.unsent.sendAgain }}</v-btn>
          <v-btn @click="outbox.drop(u.entry.id)">{{ SAY.unsent.throwAway }}</v-btn>
        </li>
        <li v-for="d in outbox.damaged.value" :key="d.key">
          <span class="what"
            ><b>{{ SAY.unsent.storedHereButCantBe }}</b
            ><small class="mono">{{ d.text }}</small></span
          >
          <v-btn @click="outbox.dropDamaged(d.key)">{{ SAY.unsent.throwAway }}</v-btn>
        </li>
      </ul>
    </template>
  </section>
</template>

<style scoped>
.unsent {
  margin: 0 0 12px;
  padding: 10px 16px;
  border-left: 8px solid var(--plum);
  background: var(--panel);
}
h2 {
  margin: 0 0 4px;
  font-size: 18px;
}
p {
  margin: 4px 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}
.what {
  flex: 1 1 260px;
  min-width: 0;
  font-size: 18px;
}
small {
  display: block;
  font-size: 15px;
  overflow-wrap: anywhere;
}
</style>
