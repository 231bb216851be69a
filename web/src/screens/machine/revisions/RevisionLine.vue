<script setup lang="ts">
import type { RevisionView } from '../../../api/client'
import { clock, dateAndDay } from '../../../words/numbers'
import { SAY } from '../../../words/say'

/** A revision: when, who, what for, and what can be done with it. */
defineProps<{
  of: RevisionView
  newest: boolean
  /** Its changes are on screen. */
  shown: boolean
  /** The only one there is. */
  only: boolean
  busy: boolean
}>()
const emit = defineEmits<{ show: []; restore: [] }>()

const jobs = (count: number) => (count === 1 ? '1 job uses it' : `${count} jobs use it`)
</script>

<template>
  <li :class="{ shown }">
    <h2>
      Revision {{ of.revision }} <small v-if="newest">{{ SAY.revisions.inUse }}</small>
    </h2>
    <p class="why">{{ of.reason ?? SAY.revisions.noReason }}</p>
    <p class="quiet">
      {{ dateAndDay(of.made_at) }}, {{ clock(of.made_at)
      }}<template v-if="of.by"> · {{ of.by }}</template
      ><template v-if="of.jobs"> · {{ jobs(of.jobs) }}</template>
    </p>
    <p class="do no-print">
      <v-btn
        v-if="of.revision > 1"
        variant="outlined"
        :aria-pressed="shown"
        :disabled="busy"
        @click="emit('show')"
        >{{ SAY.revisions.whatChanged }}</v-btn
      >
      <v-btn v-if="!newest && !only" variant="outlined" :disabled="busy" @click="emit('restore')">{{
        SAY.revisions.useAgain
      }}</v-btn>
    </p>
  </li>
</template>

<style scoped>
li {
  padding: 10px 12px;
  border-left: 6px solid transparent;
  border-bottom: 1px solid var(--rule);
}
.shown {
  border-left-color: var(--ember);
  background: var(--panel);
}
h2,
p {
  margin: 0;
}
h2 {
  font-size: 19px;
}
h2 small {
  margin-left: 8px;
  font-size: 15px;
  color: var(--moss);
}
.why {
  font-size: 17px;
}
.quiet {
  font-size: 15px;
}
.do {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 6px;
}
.do :deep(.v-btn) {
  min-height: 44px;
}
</style>
