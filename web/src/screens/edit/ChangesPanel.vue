<script setup lang="ts">
import { computed, ref } from 'vue'
import type { EditedView, MachineDetail, PlacedProblem } from '../../api/client'
import { capital } from '../../words/units'
import { SAY } from '../../words/say'
import DifferencePanel from '../machine/revisions/DifferencePanel.vue'

/** What was changed so far, what is wrong with it, what the machine would then decide, and the way to keep it. */
const props = defineProps<{
  view: EditedView
  detail: MachineDetail
  undone: number
  busy: boolean
}>()
const emit = defineEmits<{
  undo: []
  redo: []
  forget: []
  keep: [reason: string]
  show: [problem: PlacedProblem]
}>()
const reason = ref('')
const steps = computed(() => props.view.told)
const problems = computed(() => props.view.problems.filter((p) => !p.warning))
const warnings = computed(() => props.view.problems.filter((p) => p.warning))
const shows = (p: PlacedProblem) => !!p.id && (p.thing === 'wire' || p.thing === 'part')
</script>

<template>
  <section class="changes" :aria-label="SAY.edit.yourChanges">
    <h2>{{ SAY.edit.yourChanges }}</h2>
    <p v-if="!steps.length" class="quiet">{{ SAY.edit.nothingYet }}</p>
    <ol v-else>
      <li v-for="(s, i) in steps" :key="i" data-step>{{ capital(s) }}</li>
    </ol>
    <p v-if="steps.length || undone" class="buttons">
      <v-btn height="48" :disabled="busy || !steps.length" @click="emit('undo')"
        ><kbd>u</kbd>&nbsp;{{ SAY.common.undo }}</v-btn
      >
      <v-btn height="48" :disabled="busy || !undone" @click="emit('redo')"
        ><kbd>r</kbd>&nbsp;{{ SAY.edit.redo }}</v-btn
      >
      <v-btn height="48" variant="text" :disabled="busy || !steps.length" @click="emit('forget')">{{
        SAY.edit.startOver
      }}</v-btn>
    </p>
    <section v-if="problems.length" class="wrong" role="alert">
      <h3>{{ SAY.edit.fixFirst }}</h3>
      <ul>
        <li v-for="p in problems" :key="`${p.path} ${p.sentence}`">
          <b v-if="p.name">{{ capital(p.name) }}: </b>{{ p.sentence }}
          <v-btn v-if="shows(p)" height="44" variant="text" @click="emit('show', p)">{{
            SAY.revisions.showIt
          }}</v-btn>
        </li>
      </ul>
    </section>
    <p v-if="view.difference?.decides.less_safe" class="wrong" role="alert">
      <b>{{ SAY.edit.lessSafe }}</b> {{ SAY.edit.fixTheMachine }}
    </p>
    <form
      v-if="steps.length && !problems.length"
      class="keep"
      @submit.prevent="emit('keep', reason)"
    >
      <v-text-field v-model="reason" :label="SAY.edit.whatFor" maxlength="400" hide-details />
      <v-btn type="submit" class="strong" height="52" :disabled="busy" data-keep>{{
        SAY.edit.keepIt
      }}</v-btn>
    </form>
    <DifferencePanel v-if="view.difference" :of="view.difference" :detail="detail" />
    <details v-if="warnings.length">
      <summary>{{ SAY.edit.worthALook }}: {{ warnings.length }}</summary>
      <ul>
        <li v-for="p in warnings" :key="`${p.path} ${p.sentence}`">
          <b v-if="p.name">{{ capital(p.name) }}: </b>{{ p.sentence }}
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
.changes {
  display: grid;
  gap: 12px;
}
h2,
h3,
p,
ol,
ul {
  margin: 0;
}
h2 {
  font-size: 20px;
}
h3 {
  font-size: 18px;
}
li {
  padding: 2px 0;
  font-size: 17px;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.wrong {
  display: grid;
  gap: 6px;
  padding: 10px 14px;
  border-left: 8px solid var(--plum);
}
.keep {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
}
summary {
  min-height: 44px;
  padding: 10px 0;
  font-size: 17px;
  cursor: pointer;
}
@media (max-width: 700px) {
  .keep {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
