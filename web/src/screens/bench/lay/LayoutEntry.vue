<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { BenchView, Subject } from '../../../api/client'
import { FUNCTION, pair, positionName } from '../../../words/bench'
import { SAY } from '../../../words/say'

/** What a drawing says of the terminals, and what the readings make of it. */
const props = defineProps<{ view: BenchView; open: boolean; refused: string }>()
const emit = defineEmits<{ change: [to: { subject: Subject }] }>()

const profile = computed(() => props.view.subject.profile)
const choice = ref<{ [terminal: string]: string }>({})
watch(
  () => props.view.subject.layout,
  (layout) => {
    choice.value = { ...layout }
  },
  { immediate: true },
)
const items = computed(
  () =>
    profile.value?.terminals.map((t) => ({
      title: `${t.id}, ${FUNCTION[t.function]}`,
      value: t.id,
    })) ?? [],
)
const whole = computed(
  () => new Set(Object.values(choice.value)).size === props.view.subject.terminals.length,
)
const words = computed(() => {
  const layout = props.view.layout
  switch (layout?.stand) {
    case 'confirmed':
      return 'Confirmed: what was read fits the drawing, and no other order does otherwise.'
    case 'open':
      return `Nothing speaks against it yet; ${layout.fit} orders still fit.`
    case 'contradicted':
      return layout.fit
        ? `Contradicted. ${layout.fit} other layouts of this type do fit: the drawing is wrong, or was read wrong.`
        : 'Contradicted, and no other order of this kind fits: the switch is bad, or of another kind.'
    default:
      return ''
  }
})
</script>

<template>
  <section class="panel" :aria-label="SAY.bench.theDrawingsLayout">
    <h2>{{ SAY.bench.theDrawingsLayout }}</h2>
    <p v-if="!profile" class="quiet">
      {{ SAY.bench.pickASwitchTypeFirst }}
    </p>
    <template v-else>
      <p v-if="words" class="stand" :class="view.layout?.stand" role="status">{{ words }}</p>
      <ul v-if="view.layout?.against.length">
        <li v-for="c in view.layout.against" :key="c.position + c.one + c.other">
          {{ pair(c.one, c.other) }} in {{ positionName(view.subject, c.position) }}
        </li>
      </ul>
      <div class="rows">
        <v-select
          v-for="t in view.subject.terminals"
          :key="t"
          v-model="choice[t]"
          :label="`Terminal ${t} is`"
          :items="items"
          :disabled="!open"
        />
      </div>
      <p v-if="refused" role="alert" class="refused">{{ refused }}</p>
      <div v-if="open" class="do">
        <v-btn
          :disabled="!whole"
          @click="emit('change', { subject: { ...view.subject, layout: choice } })"
          >{{ SAY.bench.thisIsTheLayout }}</v-btn
        >
        <v-btn
          v-if="Object.keys(view.subject.layout ?? {}).length"
          @click="emit('change', { subject: { ...view.subject, layout: {} } })"
          >{{ SAY.bench.leaveItOut }}</v-btn
        >
      </div>
    </template>
  </section>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  padding: 12px 14px;
  border-left: 4px solid var(--rule);
  background: var(--panel);
}
h2 {
  margin: 0;
  font-size: 18px;
}
p,
ul {
  margin: 0;
}
.rows {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.stand {
  font-weight: 700;
}
.contradicted,
.refused {
  color: var(--plum);
}
.confirmed {
  color: var(--moss);
}
.do {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
}
</style>
