<script setup lang="ts">
import { computed } from 'vue'
import type { CauseView } from '../api/client'
import { causeTest } from '../words/causes'
import { strainWords } from '../words/doubts'
import { SAY } from '../words/say'
import { failing } from '../words/units'

/** What may have brought a fault about, what is known of it, and what would tell. */
const props = defineProps<{ cause: CauseView }>()

const CHECKED: { [checked in CauseView['checked']]: string } = {
  'not-yet': SAY.job.causeNotChecked,
  'one-of': SAY.job.causeOneOf,
  good: SAY.job.causeGood,
  bad: SAY.job.causeBad,
  repaired: SAY.job.causeRepaired,
}
const says = computed(() => {
  const { unit, mode, element, by } = props.cause
  return `${failing(unit, mode, element)}: ${strainWords(by)}`
})
const how = computed(() => causeTest(props.cause))
</script>

<template>
  {{ says }}. <b class="checked" :class="cause.checked">{{ CHECKED[cause.checked] }}</b>
  <span v-if="$slots.default && ['not-yet', 'one-of'].includes(cause.checked)" class="how no-print">
    {{ how }}
    <slot />
  </span>
</template>

<style scoped>
.checked.not-yet,
.checked.one-of,
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
</style>
