<script setup lang="ts">
import { computed, ref } from 'vue'
import { WIRE_WORDS, rating, type FuseWire } from '../../words/fuses'
import { amps } from '../../words/numbers'
import { SAY } from '../../words/say'

/** Every wire beside what it carries, what needs a look first. */
const props = defineProps<{ wires: FuseWire[]; file: string }>()

/** So many are seen at once. */
const FEW = 12
const all = ref(false)
const bad = (w: FuseWire) => w.word === 'overloaded' || w.word === 'fuse-over'
const first = computed(() => Math.max(FEW, props.wires.filter(bad).length))
const carried = (w: FuseWire) => w.carried.lasting ?? w.carried.moment
</script>

<template>
  <section :aria-label="SAY.fuses.wires">
    <h2>{{ SAY.fuses.wires }}</h2>
    <table>
      <thead>
        <tr>
          <th scope="col">{{ SAY.fuses.wire }}</th>
          <th scope="col" class="number">{{ SAY.fuses.mayCarry }}</th>
          <th scope="col" class="number">{{ SAY.fuses.most }}</th>
          <th scope="col">{{ SAY.fuses.fuse }}</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(w, i) in wires"
          :key="w.name"
          :class="{ bad: bad(w), folded: !all && i >= first }"
        >
          <td>
            {{ w.name }}
            <span class="line" :class="bad(w) ? 'strong' : 'quiet'">{{ WIRE_WORDS[w.word] }}</span>
          </td>
          <td class="number mono">
            {{ w.carries == null ? '-' : `${amps(w.carries)} A` }}
            <span v-if="w.gauge != null" class="line quiet">{{ w.gauge }} ga</span>
          </td>
          <td class="number mono">{{ carried(w) ? `${amps(carried(w)!.amps)} A` : '-' }}</td>
          <td>{{ w.fuse ?? '-' }}{{ w.rating == null ? '' : `, ${rating(w.rating)} A` }}</td>
        </tr>
      </tbody>
    </table>
    <div class="row no-print">
      <v-btn v-if="wires.length > first" height="48" :aria-expanded="all" @click="all = !all">{{
        all ? SAY.fuses.fewer : `${SAY.fuses.allWires} (${wires.length})`
      }}</v-btn>
      <a class="file" :href="file">{{ SAY.fuses.asCsv }}</a>
    </div>
  </section>
</template>

<style scoped>
h2 {
  margin: 0 0 6px;
  font-size: 22px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 16px;
}
th {
  text-align: left;
  font-weight: 600;
  vertical-align: bottom;
}
th,
td {
  padding: 7px 8px 7px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}
.number {
  text-align: right;
  white-space: nowrap;
}
.line {
  display: block;
  font-size: 15px;
}
.bad td:first-child {
  padding-left: 10px;
  border-left: 8px solid var(--plum);
}
.strong {
  font-weight: 600;
}
.row {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 16px;
  margin-top: 8px;
}
.file {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--slate);
}
@media screen {
  .folded {
    display: none;
  }
}
</style>
