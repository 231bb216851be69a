<script setup lang="ts">
import { computed } from 'vue'
import type { Condition, Control, SetUpEntry, SetUpView } from '../../../api/client'
import { moves, setUpWords } from '../../../words/tests'
import { backWords } from '../../../words/temporary'
import { SAY } from '../../../words/say'

/** The frame of every card: what to watch for, what to put back first, how to set the machine. */
const props = defineProps<{
  title: string
  why: string
  /** What to watch for; undefined until the server has said. */
  cautions: string[] | undefined
  putBack: SetUpView[]
  setUp?: SetUpView[]
  controls: Control[]
  condition: Condition
  wanted: Condition
  busy?: boolean
}>()
const emit = defineEmits<{ set: [condition: Condition]; back: [what: SetUpEntry] }>()

const toMove = computed(() => moves(props.controls, props.condition, props.wanted))
const setUpFirst = computed(() => setUpWords(props.setUp ?? []))
</script>

<template>
  <section class="card" :aria-label="SAY.job.nextTest" tabindex="-1">
    <p class="why">
      <b>{{ putBack.length ? SAY.job.putItBackFirst : title }}</b>
      <template v-if="why && !putBack.length"> · {{ why }}</template>
      <slot name="beside" />
    </p>
    <template v-if="putBack.length">
      <p class="do">{{ SAY.job.thisTestNeedsItThe }}</p>
      <v-btn
        v-for="back in putBack"
        :key="backWords(back)"
        class="strong"
        height="64"
        :disabled="busy ?? false"
        @click="emit('back', back.entry)"
        >{{ backWords(back) }}</v-btn
      >
    </template>
    <template v-else>
      <p v-for="caution in cautions" :key="caution" class="caution">{{ caution }}</p>
      <p v-if="toMove.length || setUpFirst" class="do">
        <template v-if="toMove.length"
          >{{ SAY.job.set }} <b>{{ toMove.join(', ') }}</b>.
        </template>
        {{ setUpFirst }}
        <v-btn v-if="toMove.length" size="small" @click="emit('set', wanted)">{{
          SAY.job.doneItsSet
        }}</v-btn>
      </p>
      <slot />
    </template>
  </section>
</template>

<style scoped>
.card {
  display: grid;
  gap: 8px;
  padding: 10px 14px 12px;
  border: 2px solid var(--ink);
  border-radius: 14px;
  background: var(--panel);
}
p {
  margin: 0;
}
.why {
  font-size: 15px;
}
.do {
  font-size: 19px;
  line-height: 1.25;
}
.card > :deep(.v-btn) {
  height: auto !important;
  min-height: 64px;
  padding-block: 8px;
}
.card > :deep(.v-btn .v-btn__content) {
  white-space: normal;
  line-height: 1.15;
}
.card :deep(.do .v-btn) {
  font-size: 15px;
}
</style>
