<script setup lang="ts">
import { computed } from 'vue'
import type { DifferenceView, MachineDetail } from '../../../api/client'
import { SAY } from '../../../words/say'
import { conditionQuery } from '../useMachine'

/** What one revision has otherwise than another: first what it decides, then what is drawn. */
const props = defineProps<{ of: DifferenceView; detail: MachineDetail }>()

type Changed = NonNullable<DifferenceView['decides']['conditions']>[number]

/** The machine as it is now, standing so. */
function standing(c: Changed) {
  const engine = c.effect === 'stops' ? 'running' : 'stopped'
  const query = conditionQuery(props.detail.controls, { set: c.first, engine })
  return { path: `/machines/${props.detail.name}`, query }
}

const decides = computed(() => props.of.decides)
/** Less safe first. */
const conditions = computed(() =>
  [...(decides.value.conditions ?? [])].sort((a, b) => Number(b.less_safe) - Number(a.less_safe)),
)
const asBefore = computed(
  () =>
    decides.value.conditions?.length === 0 &&
    !decides.value.sentences.length &&
    !decides.value.duties.length,
)
const drawn = computed(() => props.of.drawing.filter((c) => !c.only_source))
/** What is the same and only better, or less well, known. */
const known = computed(() => props.of.drawing.filter((c) => c.only_source))
</script>

<template>
  <div class="difference">
    <h2>From revision {{ of.from }} to revision {{ of.to }}</h2>
    <p v-if="of.from === of.to" class="quiet">{{ SAY.revisions.theSame }}</p>
    <template v-else>
      <section :aria-label="SAY.revisions.whatItDecides">
        <h3>{{ SAY.revisions.whatItDecides }}</h3>
        <p v-if="asBefore" class="same">{{ SAY.revisions.decidesAsBefore }}</p>
        <p v-if="!decides.conditions" class="quiet">{{ SAY.revisions.otherControls }}</p>
        <ul v-if="conditions.length">
          <li v-for="c in conditions" :key="c.says" :class="{ less: c.less_safe }">
            <b v-if="c.less_safe" class="mark">{{ SAY.revisions.lessSafe }}</b>
            <span
              >{{ c.says }}.<small
                >First: {{ c.first_says }}.
                <router-link v-if="of.to === detail.revision" class="no-print" :to="standing(c)">{{
                  SAY.revisions.showIt
                }}</router-link></small
              ></span
            >
          </li>
        </ul>
        <ul v-if="decides.duties.length">
          <li v-for="d in decides.duties" :key="d.name" :class="{ less: d.after === 'broken' }">
            <b v-if="d.after === 'broken'" class="mark">{{ SAY.revisions.safetyCheck }}</b>
            <span
              >{{ d.name }}: <b>{{ d.says }}</b></span
            >
          </li>
        </ul>
        <dl v-for="s in decides.sentences" :key="s.effect">
          <div>
            <dt>{{ SAY.revisions.before }}</dt>
            <dd class="old">{{ s.before ?? SAY.revisions.nothing }}</dd>
          </div>
          <div>
            <dt>{{ SAY.revisions.now }}</dt>
            <dd>{{ s.after ?? SAY.revisions.nothing }}</dd>
          </div>
        </dl>
      </section>
      <section :aria-label="SAY.revisions.whatIsDrawn">
        <h3>{{ SAY.revisions.whatIsDrawn }}</h3>
        <p v-if="!of.drawing.length" class="same">{{ SAY.revisions.drawnAsBefore }}</p>
        <ul v-if="drawn.length">
          <li v-for="c in drawn" :key="`${c.thing} ${c.id} ${c.how}`">{{ c.sentence }}</li>
        </ul>
        <details v-if="known.length" :open="!drawn.length && known.length < 12">
          <summary>{{ SAY.revisions.onlyKnown }}: {{ known.length }}</summary>
          <ul>
            <li v-for="c in known" :key="`${c.thing} ${c.id}`">{{ c.sentence }}</li>
          </ul>
        </details>
      </section>
    </template>
  </div>
</template>

<style scoped>
h2 {
  margin: 0 0 8px;
  font-size: 20px;
}
h3 {
  margin: 12px 0 4px;
  font-size: 17px;
}
p {
  margin: 4px 0;
  font-size: 17px;
}
.same {
  padding-left: 12px;
  border-left: 6px solid var(--moss);
  font-weight: 600;
}
ul {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 10px;
  padding: 6px 0 6px 12px;
  border-left: 6px solid var(--rule);
  border-bottom: 1px solid var(--rule);
  font-size: 17px;
}
.less {
  border-left-color: var(--plum);
}
.mark {
  flex: none;
  color: var(--plum);
}
small {
  display: block;
  font-size: 15px;
  color: var(--quiet);
}
a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--slate);
}
dl {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px 16px;
  margin: 8px 0;
}
dt {
  font-size: 14px;
  color: var(--quiet);
}
dd {
  margin: 0;
  padding-left: 10px;
  border-left: 6px solid var(--ember);
  font-size: 17px;
}
.old {
  border-color: var(--rule);
}
summary {
  padding: 10px 0;
  min-height: 44px;
  font-size: 17px;
  cursor: pointer;
}
@media (max-width: 600px) {
  dl {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
