<script setup lang="ts">
import type { Condition, Control, DutyView } from '../../api/client'
import { shallWords, standWords } from '../../words/duties'
import { SAY } from '../../words/say'

const props = defineProps<{
  duties: DutyView[]
  /** The same of the machine as built, where that differs. */
  built: DutyView[] | undefined
  controls: Control[]
  /** Nobody has traced it: what holds for its usual wiring is not shown for the machine. */
  usual: boolean
}>()
const emit = defineEmits<{ go: [set: Condition] }>()

function verdict(duty: DutyView): keyof typeof WORDS {
  if (duty.broken) return 'broken'
  if (!duty.checked) return 'never'
  return props.usual ? 'paper' : 'proved'
}
const WORDS = {
  proved: '✓ proved',
  paper: SAY.machine.onPaper,
  broken: '✕ broken',
  never: '? never comes up',
}

/** Broken here although the maker's machine does it. */
const byChange = (i: number) => props.duties[i]?.broken && props.built && !props.built[i]?.broken
</script>

<template>
  <section :aria-label="SAY.machine.duties">
    <h2>{{ SAY.machine.safetyChecks }}</h2>
    <p v-if="!duties.length" class="quiet">{{ SAY.machine.thisMachinesDocumentListsNo }}</p>
    <p v-if="usual" class="quiet">{{ SAY.machine.onPaperOnly }}</p>
    <ul>
      <li v-for="(duty, i) in duties" :key="duty.name" :class="verdict(duty)">
        <span class="mark">{{ WORDS[verdict(duty)] }}</span>
        <span
          >{{ duty.name }}: <b>{{ shallWords(duty) }}.</b>
          <small
            >{{
              duty.broken
                ? `Not done in ${duty.broken} of ${duty.checked} conditions.`
                : `Every one of ${duty.checked} conditions tried.`
            }}
            <template v-if="byChange(i)"> {{ ` ${SAY.machine.theMachineAsBuiltDoes}` }}</template>
            <button
              v-if="duty.broken_in"
              type="button"
              class="no-print"
              @click="emit('go', duty.broken_in)"
            >
              Show: {{ standWords(controls, duty.broken_in) }}
            </button></small
          ></span
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
h2 {
  margin: 4px 0 8px;
  font-size: 20px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: 10px;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
  font-size: 17px;
}
.mark {
  font-weight: 700;
}
.proved .mark {
  color: var(--moss);
}
.broken .mark {
  color: var(--plum);
}
.never .mark {
  color: var(--ochre);
}
small {
  display: block;
  font-size: 15px;
  color: var(--quiet);
}
button {
  min-height: 44px;
  color: var(--slate);
  text-decoration: underline;
}
</style>
