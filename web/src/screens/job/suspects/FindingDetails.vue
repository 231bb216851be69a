<script setup lang="ts">
import { computed } from 'vue'
import type { ConclusionView, JobView, TestView } from '../../../api/client'
import { strainWords } from '../../../words/doubts'
import { observed } from '../../../words/observed'
import { INSTRUMENT, rangeWords } from '../../../words/tests'
import { capital, failing, lower } from '../../../words/units'
import { SAY } from '../../../words/say'

const props = defineProps<{ job: JobView; found: ConclusionView }>()
const emit = defineEmits<{ test: [test: TestView] }>()

type Cause = ConclusionView['causes'][number]
const CHECKED: { [checked in Cause['checked']]: string } = {
  'not-yet': SAY.job.causeNotChecked,
  good: SAY.job.causeGood,
  bad: SAY.job.causeBad,
  repaired: SAY.job.causeRepaired,
}

const restsOn = computed(() =>
  props.found.rests_on.flatMap((sequence) => {
    const entry = props.job.evidence.find((e) => e.sequence === sequence)
    return entry ? [observed(props.job, entry)] : []
  }),
)
const causes = computed(() =>
  props.found.causes.map((c) => ({
    ...c,
    says: `${failing(c.unit, c.mode, c.element)}: ${strainWords(c.by)}`,
    how: howWords(c),
  })),
)
const harms = computed(() => props.found.harms.map((h) => capital(strainWords(h))))

/** "Ohmmeter, clutch + to clutch -. A good one: about 2.9 ohm." */
function howWords({ test, good }: Cause): string {
  if (test?.action.kind !== 'measure') return ''
  const { instrument, red, black } = test.action
  const sound = good ? `. ${SAY.job.aGoodOne} ${lower(rangeWords(good))}` : ''
  return `${INSTRUMENT[instrument]}, ${lower(red.name)} to ${lower(black.name)}${sound}.`
}
</script>

<template>
  <div>
    <p v-if="restsOn.length">
      <b>{{ SAY.job.becauseOf }}</b> {{ restsOn.join('; ') }}.
    </p>
    <template v-if="causes.length">
      <p>
        <b>{{ SAY.job.whatMayHaveCausedIt }}</b> {{ SAY.job.checkBeforeYouPutIn }}
      </p>
      <ul>
        <li v-for="cause in causes" :key="cause.says">
          {{ cause.says }}.
          <b class="checked" :class="cause.checked">{{ CHECKED[cause.checked] }}</b>
          <span v-if="cause.test && job.status === 'open'" class="how no-print">
            {{ cause.how }}
            <v-btn height="44" @click="emit('test', cause.test)">{{ SAY.job.checkIt }}</v-btn>
          </span>
        </li>
      </ul>
    </template>
    <template v-if="harms.length">
      <p>
        <b>{{ SAY.job.whatItMayHaveDamaged }}</b>
      </p>
      <ul>
        <li v-for="harm in harms" :key="harm">{{ harm }}.</li>
      </ul>
    </template>
    <p v-if="causes.length || harms.length" class="no-print">
      <RouterLink class="fuses" :to="`/jobs/${job.id}/fuses`">{{ SAY.fuses.lookAt }}</RouterLink>
    </p>
  </div>
</template>

<style scoped>
p {
  margin: 4px 0;
}
ul {
  margin: 0 0 4px;
  padding-left: 18px;
  line-height: 1.3;
}
.checked.not-yet,
.checked.bad {
  color: var(--plum);
}
.checked.good,
.checked.repaired {
  color: var(--moss);
}
.how {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
  margin: 2px 0 6px;
}
.fuses {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--slate);
}
</style>
