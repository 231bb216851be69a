<script setup lang="ts">
import { computed } from 'vue'
import type { Observed, TestView } from '../../../api/client'
import { LOOK_FOR, question } from '../../../words/noticed'
import { percent } from '../../../words/numbers'
import { capital, lower, unitName } from '../../../words/units'
import { SAY } from '../../../words/say'

const props = defineProps<{ looks: TestView[]; busy: boolean }>()
const emit = defineEmits<{ looked: [observed: Observed, test: TestView] }>()

const rows = computed(() =>
  props.looks.flatMap((test) => {
    const { action } = test
    const asked = question(test)
    if (!asked || action.kind !== 'look') return []
    const minutes = `${Math.max(Math.round(test.minutes), 1)} min`
    const where = action.place ? `${action.place}, ${minutes}` : minutes
    // What it would change: from so likely to so likely.
    const bad = test.answers.find((a) => a.range.kind === 'looks' && a.range.bad)
    const first = bad?.leaves[0]
    const would = first && `bad: ${percent(first.probability)} ${unitName(first.unit)}`
    return [
      {
        test,
        title:
          action.at.kind === 'linkage' ? `Linkage, ${lower(action.name)}` : capital(action.name),
        signs: LOOK_FOR[action.at.kind],
        answers: asked.answers,
        small: [where, would].filter(Boolean).join(' · '),
      },
    ]
  }),
)
const whole = computed(() => Math.ceil(props.looks.reduce((sum, t) => sum + t.minutes, 0)))
</script>

<template>
  <section class="round" :aria-label="SAY.job.walkRound">
    <p v-if="!rows.length" class="quiet">{{ SAY.job.nothingLeftToLookAt }}</p>
    <p v-else>
      <b>{{ SAY.job.walkRound }}</b>, everything off, no meter: {{ rows.length }} looks, about
      {{ whole }} min.
    </p>
    <ol>
      <li v-for="row in rows" :key="row.title">
        <div>
          <b>{{ row.title }}:</b> {{ row.signs }}?
          <small>{{ row.small }}</small>
        </div>
        <div class="two" role="group" :aria-label="row.title">
          <v-btn
            v-for="a in row.answers"
            :key="a.label"
            :disabled="busy"
            @click="emit('looked', a.observed, row.test)"
            >{{ a.label.replace('Looks ', '') }}</v-btn
          >
        </div>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.round {
  padding: 10px 14px;
  border: 2px solid var(--ink);
  border-radius: 14px;
  background: var(--panel);
}
p {
  margin: 0 0 4px;
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
  padding: 6px 0;
  border-top: 1px solid var(--rule);
  line-height: 1.25;
}
small {
  display: block;
  font-size: 14px;
  color: var(--quiet);
}
.two {
  flex: none;
  display: flex;
  gap: 6px;
}
.two :deep(.v-btn) {
  min-width: 56px;
  padding: 0 10px;
}
</style>
