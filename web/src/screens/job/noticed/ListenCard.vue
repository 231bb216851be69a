<script setup lang="ts">
import { computed } from 'vue'
import type { Caution, Condition, Control } from '../../../api/client'
import { CAUTIONS } from '../../../words/cautions'
import { moves } from '../../../words/tests'
import CrankTimer from './CrankTimer.vue'

const props = defineProps<{
  controls: Control[]
  condition: Condition
  /** The condition in which a sound machine would crank. */
  wanted: Condition
  cautions: Caution[]
  waiting: boolean
}>()
const emit = defineEmits<{ set: [condition: Condition] }>()

const toSet = computed(() => moves(props.controls, props.condition, props.wanted))
</script>

<template>
  <section class="listen" aria-label="Next test">
    <p><b>First: turn the key and listen.</b></p>
    <p v-if="toSet.length">
      Set <b>{{ toSet.join(', ') }}</b>.
      <v-btn size="small" @click="emit('set', wanted)">It is set so</v-btn>
    </p>
    <p>
      Set the controls as the complaint has it, hold the key at start for two seconds, then say at
      the left what was heard.
    </p>
    <CrankTimer />
    <p v-for="caution in cautions" :key="caution" class="caution">{{ CAUTIONS[caution] }}</p>
    <p v-if="waiting" class="waiting" role="alert">
      The server or its database does not answer. What you said is kept and goes in as soon as it
      does.
    </p>
  </section>
</template>

<style scoped>
.listen {
  padding: 14px 16px;
  border: 2px solid var(--ink);
  border-radius: 14px;
  background: var(--panel);
  font-size: 18px;
}
p {
  margin: 0 0 8px;
}
</style>
