<script setup lang="ts">
import { computed } from 'vue'
import type { LinkStateCode, LinkView } from '../../api/client'
import { SAY } from '../../words/say'
import { LINK_STATE, endWords } from '../../words/trace'

/** Every wire, by how far it is known: what wants a look first. */
const props = defineProps<{ links: LinkView[] }>()
const ORDER: LinkStateCode[] = ['not-there', 'doubted', 'agrees', 'open', 'traced']
const groups = computed(() =>
  ORDER.map((state) => ({ state, links: props.links.filter((l) => l.state === state) })).filter(
    (g) => g.links.length,
  ),
)
const ends = ({ from, to }: LinkView) => `${endWords(from)} to ${endWords(to)}`
</script>

<template>
  <section class="wires" :aria-label="SAY.trace.leftAndDone">
    <details v-for="g in groups" :key="g.state" :open="g.state !== 'open' && g.state !== 'traced'">
      <summary :class="g.state">
        <b>{{ g.links.length }}</b> {{ LINK_STATE[g.state] }}
      </summary>
      <ul>
        <li v-for="l in g.links" :key="`${ends(l)} ${l.wire}`">
          {{ ends(l) }}<span v-if="l.color" class="quiet">, {{ l.color }}</span>
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
.wires {
  display: grid;
  gap: 4px;
}
summary {
  box-sizing: border-box;
  min-height: 44px;
  padding: 9px 12px;
  line-height: 26px;
  font-size: 17px;
  cursor: pointer;
  background: var(--panel);
  border-left: 8px solid var(--dead);
}
summary.traced {
  border-color: var(--moss);
}
summary.not-there,
summary.doubted {
  border-color: var(--plum);
}
summary.agrees {
  border-color: var(--ochre);
}
ul {
  margin: 6px 0 10px;
  padding-left: 22px;
}
li {
  font-size: 16px;
}
</style>
