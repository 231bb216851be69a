<script setup lang="ts">
import { computed } from 'vue'
import { CHARGE_PLACES, CHARGE_STATES, type Charging } from '../../words/charging'
import { percent } from '../../words/numbers'
import { SAY } from '../../words/say'
import { capital, list, unitName } from '../../words/units'

/** The way of the charging current, part by part, each with the chance that the trouble is there and what it would be. */
const props = defineProps<{ system: Charging }>()
const rows = computed(() =>
  props.system.places.map((p) => {
    const own = props.system.standing.causes.filter((c) => c.place === p.place)
    const names = p.units.map(unitName)
    const few = names.length <= 2 ? list(names, 'and') : ''
    return {
      place: p.place,
      chance: p.chance,
      name: p.place === 'regulator' && few ? capital(few) : CHARGE_PLACES[p.place],
      is:
        own[0] && own[0].chance >= 0.05 ? CHARGE_STATES[own[0].state].replace(/^[^:]*: /, '') : '',
    }
  }),
)
const good = computed(
  () => props.system.standing.causes.find((c) => c.place === 'nowhere')?.chance ?? 0,
)
</script>

<template>
  <section :aria-label="SAY.charging.places">
    <h2>{{ SAY.charging.places }}</h2>
    <ol>
      <li v-for="r in rows" :key="r.place" :class="{ most: r.chance >= 0.5 }">
        <span class="name">{{ r.name }}</span>
        <span class="bar" aria-hidden="true"><i :style="{ width: `${r.chance * 100}%` }"></i></span>
        <b>{{ percent(r.chance) }}</b>
        <span v-if="r.is" class="is">{{ r.is }}</span>
      </li>
    </ol>
    <p class="fine">{{ CHARGE_PLACES.nowhere }}: {{ percent(good) }}</p>
  </section>
</template>

<style scoped>
h2 {
  margin: 0 0 8px;
  font-size: 20px;
}
ol {
  display: grid;
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 17px;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(60px, 30%) 52px;
  gap: 2px 12px;
  align-items: center;
  padding-left: 10px;
  border-left: 4px solid var(--line);
}
li.most {
  border-left: 8px solid var(--plum);
  font-weight: 700;
}
b {
  text-align: right;
}
.bar {
  height: 12px;
  background: var(--well);
}
.bar i {
  display: block;
  height: 100%;
  background: var(--slate);
}
.is {
  grid-column: 1 / -1;
  font-size: 15px;
}
.fine {
  margin: 8px 0 0;
  font-size: 17px;
}
</style>
