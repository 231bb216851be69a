<script setup lang="ts">
import type { JobView, ReleaseView } from '../../api/client'
import { dateAndDay } from '../../words/numbers'
import { SAWS } from '../../words/release'
import { SAY } from '../../words/say'
import { capital } from '../../words/units'

/** The interlock test record: every step and what came of it, the fuses, and whose name stands under it. */
defineProps<{ job: JobView; view: ReleaseView }>()

const took = (seconds?: number | null) => (seconds == null ? '' : `, ${seconds} s`)
const line = (stroke: number[][]) =>
  stroke.map(([x, y]) => `${(x ?? 0) * 300},${(y ?? 0) * 100}`).join(' ')
</script>

<template>
  <section class="record" :aria-label="SAY.release.record">
    <h2>{{ SAY.release.record }}</h2>
    <p>
      Job {{ job.number }} · {{ job.make }} {{ job.model }} · {{ job.tag }}
      <template v-if="job.serial"> · {{ job.serial }}</template>
    </p>
    <div v-if="view.ended" class="ended" :class="{ not: !view.ended.released }">
      <p>
        <b>{{ view.ended.released ? SAY.release.released : SAY.release.returned }}</b>,
        {{ view.ended.name }}<template v-if="view.ended.role">, {{ view.ended.role }}</template
        ><template v-if="view.ended.at">, {{ dateAndDay(view.ended.at) }}</template>
      </p>
      <p v-if="view.ended.reason">{{ view.ended.reason }}</p>
      <ul v-if="!view.ended.released && view.blockers.length">
        <li v-for="b in view.blockers" :key="b.says">{{ b.says }}</li>
      </ul>
      <p v-if="view.ended.reopened">
        <b>{{ SAY.release.reopened }}</b>
      </p>
      <svg v-if="view.ended.strokes.length" viewBox="0 0 300 100" aria-hidden="true">
        <polyline v-for="(s, i) in view.ended.strokes" :key="i" :points="line(s)" />
      </svg>
    </div>
    <table>
      <thead>
        <tr>
          <th scope="col">{{ SAY.release.step }}</th>
          <th scope="col">{{ SAY.release.must }}</th>
          <th scope="col">{{ SAY.release.saw }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(s, i) in view.steps" :key="i" :class="s.result.stands">
          <td>{{ i + 1 }}. {{ capital(s.stand.map((c) => c.says).join(', ')) }}. {{ s.does }}</td>
          <td>{{ s.must }}</td>
          <td>
            <template v-if="s.result.saw"
              >{{ s.result.stands === 'good' ? '✓' : '✗' }} {{ capital(SAWS[s.result.saw])
              }}{{ took(s.result.seconds) }}</template
            ><template v-else>{{ SAY.release.notDone }}</template>
          </td>
        </tr>
      </tbody>
    </table>
    <ul v-if="view.fuses.length">
      <li v-for="f in view.fuses" :key="f.fuse">
        {{ f.name }}: {{ f.read == null ? SAY.release.notDone : `${f.read} A in it`
        }}<template v-if="f.called_for != null">, {{ f.called_for }} A called for</template>
      </li>
    </ul>
    <ul v-if="view.readings.length">
      <li v-for="r in view.readings" :key="r.fault">
        {{ capital(r.unit.name) }} {{ r.fails }}:
        {{ r.bad == null ? SAY.release.notDone : r.bad ? SAY.release.bad : SAY.release.fine }}
      </li>
    </ul>
    <ul v-if="view.killed.length">
      <li v-for="k in view.killed" :key="k.unit.id">
        {{ SAY.release.whatKilled }} {{ k.unit.name }}:
        <template v-if="k.said">{{ k.said }}</template><template v-else>{{
          k.open ?? SAY.release.causeLookedAt
        }}</template>
      </li>
    </ul>
    <p>{{ SAY.release.adds }} {{ SAY.common.kelvokDoesNotCertifyThis }}</p>
  </section>
</template>

<style scoped>
.record {
  display: grid;
  gap: 10px;
  font-size: 15px;
}
h2,
p,
ul {
  margin: 0;
}
h2 {
  font-size: 20px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  padding: 6px 8px 6px 0;
  border-top: 1px solid var(--rule);
  text-align: left;
  vertical-align: top;
}
td:last-child {
  min-width: 90px;
}
.bad td:last-child {
  color: var(--plum);
  font-weight: 700;
}
.ended {
  display: grid;
  gap: 6px;
  padding: 10px 14px;
  border-left: 8px solid var(--moss);
  background: var(--panel);
  font-size: 18px;
}
.ended.not {
  border-color: var(--plum);
}
svg {
  width: 300px;
  max-width: 100%;
}
polyline {
  fill: none;
  stroke: currentColor;
  stroke-width: 2;
  stroke-linecap: round;
}
@media print {
  tr {
    break-inside: avoid;
  }
}
</style>
