<script setup lang="ts">
import { computed } from 'vue'
import type { Observed, TestView } from '../../api/client'
import { question } from '../../words/noticed'
import { leavesWords } from '../../words/tests'

const props = defineProps<{ looks: TestView[]; busy: boolean }>()
const emit = defineEmits<{ looked: [observed: Observed, test: TestView] }>()

const rows = computed(() =>
  props.looks.flatMap((test) => {
    const asked = question(test)
    const bad = test.answers.find((a) => a.range.kind === 'looks' && a.range.bad)
    if (!asked || test.doing.kind !== 'look') return []
    return [
      {
        test,
        ask: asked.ask,
        answers: asked.answers,
        place: test.doing.place,
        minutes: test.minutes < 0.95 ? '1 min' : `${Math.ceil(test.minutes)} min`,
        would: bad ? `bad would mean ${leavesWords(bad)}` : '',
      },
    ]
  }),
)
const whole = computed(() => Math.ceil(props.looks.reduce((sum, t) => sum + t.minutes, 0)))
</script>

<template>
  <section class="round" aria-label="Walk-round">
    <p v-if="!rows.length" class="quiet">Nothing is left that a look would tell.</p>
    <p v-else>
      <b>Walk-round</b>, everything off, no meter: {{ rows.length }} looks, about {{ whole }} min.
    </p>
    <ol>
      <li v-for="row in rows" :key="row.ask">
        <div>
          {{ row.ask }}
          <small
            ><template v-if="row.place">{{ row.place }} · </template>{{ row.minutes
            }}<template v-if="row.would"> · {{ row.would }}</template></small
          >
        </div>
        <div class="two" role="group" :aria-label="row.ask">
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
</style>
