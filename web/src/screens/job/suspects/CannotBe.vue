<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ExcludedView, JobView } from '../../../api/client'
import { excludedWords } from '../../../words/doubts'
import { conditionWords } from '../../../words/tests'
import { capital, list, unitName } from '../../../words/units'
import { SAY } from '../../../words/say'

const props = defineProps<{ job: JobView; excluded: ExcludedView[] }>()

/** Those ruled out for the same reasons stand in one line. */
const rows = computed(() => {
  const found = new Map<string, { names: string[]; why: string[] }>()
  for (const e of props.excluded) {
    const why = e.reasons.map((r) => {
      const entry = props.job.evidence.find((x) => x.sequence === r.sequence)?.entry
      const { controls } = props.job
      const where = entry ? conditionWords(controls, entry.condition, entry.engine) : ''
      return `${capital(where)}: ${excludedWords(r)}.`
    })
    const row = found.get(why.join()) ?? { names: [], why }
    row.names.push(unitName(e.unit))
    found.set(why.join(), row)
  }
  return [...found.values()]
})
const count = computed(() => props.excluded.length)
const open = ref(window.matchMedia('(min-width: 1001px)').matches)
</script>

<template>
  <section v-if="rows.length" :aria-label="SAY.job.ruledOut">
    <h2>
      <button :aria-expanded="open" @click="open = !open">
        Ruled out: {{ count }} <span aria-hidden="true">{{ open ? '▾' : '▸' }}</span>
      </button>
    </h2>
    <ul v-if="open">
      <li v-for="row in rows" :key="row.names.join()">
        <b>{{ capital(list(row.names, 'and')) }}</b>
        <small v-for="why in row.why" :key="why">{{ why }}</small>
      </li>
    </ul>
  </section>
</template>

<style scoped>
h2 {
  margin: 0 0 4px;
  font-size: 16px;
}
button {
  min-height: 44px;
  font-weight: 700;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 6px;
}
li {
  padding-left: 10px;
  border-left: 5px solid var(--moss);
  line-height: 1.3;
}
small {
  display: block;
  font-size: 14px;
}
</style>
