<script setup lang="ts">
import { computed } from 'vue'
import type { BatteryView } from '../../api/client'
import BatteryCurve from '../../pictures/BatteryCurve.vue'
import {
  BATTERY_STATES,
  BATTERY_WORDS,
  between,
  starterDoes,
  time,
  warmth,
  type Degrees,
} from '../../words/battery'
import { percent, volts } from '../../words/numbers'
import { SAY } from '../../words/say'

/** What the battery comes to, what it would do with this starter, and what to do about it. */
const props = defineProps<{ view: BatteryView; degrees: Degrees }>()
const said = computed(() => props.view.standing)
const shares = computed(() => said.value.chances.filter((c) => c.chance >= 0.01))

const facts = computed(() => {
  const s = said.value
  const rows: [string, string][] = []
  if (s.word === 'unread') return rows
  rows.push([SAY.battery.chargeNow, between(scaled(s.charge, 100), '%', (v) => v.toFixed(0))])
  const wanted = s.label ? `of the ${s.rated_amps.toFixed(0)} A on its label` : SAY.battery.noLabel
  rows.push([SAY.battery.gives, `${between(s.cold_amps, ' A')} ${wanted}`])
  if (s.cranking) {
    const lets = s.cranking.lets_go_at
    const under = lets == null ? '' : ` It lets go under ${volts(lets)} V.`
    rows.push([
      SAY.battery.thisStarter,
      `pulls it down to ${between(s.cranking.volts, ' V', (v) => v.toFixed(1))} and ${starterDoes(s.cranking)}.${under}`,
    ])
  }
  const short = s.charging.filter((c) => c.hours > 0.2)
  if (short.length)
    rows.push([SAY.battery.toFull, short.map((c) => `${time(c.hours)} at ${c.amps} A`).join(', ')])
  const t = s.load_test
  rows.push([
    SAY.battery.loadTest,
    `${t.amps.toFixed(0)} A for ${t.seconds.toFixed(0)} s: ${t.least_volts.toFixed(1)} V or more at ${warmth(s.celsius, props.degrees)}${s.celsius_known ? '' : SAY.battery.guessed}`,
  ])
  if (s.drain)
    rows.push([
      SAY.battery.drain,
      `${s.drain.milliamps.toFixed(0)} mA: half gone in ${time(s.drain.days_to_half * 24)}`,
    ])
  rows.push([SAY.battery.freezes, warmth(s.freezes_at, props.degrees)])
  return rows
})
const notes = computed(() => {
  const s = said.value
  const all: string[] = []
  if (s.charge_first && s.word !== 'dead-cell') all.push(SAY.battery.chargeFirst)
  if (s.wait_minutes != null && s.word !== 'unread')
    all.push(`${SAY.battery.surfaceOn} ${time(s.wait_minutes / 60)}. ${SAY.battery.orLamps}`)
  if (s.more_than_its_label) all.push(SAY.battery.wrongLabel)
  if (s.word === 'worn' || s.word === 'dead-cell') all.push(SAY.battery.before)
  return all
})

function scaled(range: { low: number; middle: number; high: number }, by: number) {
  return { low: range.low * by, middle: range.middle * by, high: range.high * by }
}
</script>

<template>
  <section class="verdict" :aria-label="SAY.battery.whatItIs">
    <h2 class="word" aria-live="polite">{{ BATTERY_WORDS[said.word] }}</h2>
    <ul v-if="said.word !== 'unread'" class="shares">
      <li v-for="c in shares" :key="c.state">
        <span>{{ BATTERY_STATES[c.state] }}</span>
        <span class="bar" aria-hidden="true"><i :style="{ width: `${c.chance * 100}%` }"></i></span>
        <b class="mono">{{ percent(c.chance) }}</b>
      </li>
    </ul>
    <p v-for="n in notes" :key="n" class="note">{{ n }}</p>
    <template v-if="said.word !== 'unread'">
      <BatteryCurve :curve="said.curve" :lets-go="said.cranking?.lets_go_at ?? undefined" />
      <p class="quiet">
        {{ said.curve.tried ? SAY.battery.curveTried : SAY.battery.curveUntried }}
      </p>
    </template>
    <p v-else class="quiet">{{ SAY.battery.threeThings }}</p>
    <dl>
      <template v-for="[what, is] in facts" :key="what">
        <dt>{{ what }}</dt>
        <dd>{{ is }}</dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
.verdict {
  display: grid;
  gap: 12px;
}
.word {
  margin: 0;
  font-size: 34px;
  line-height: 1.1;
}
.shares {
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 6px;
  font-size: 17px;
}
.shares li {
  display: grid;
  grid-template-columns: minmax(130px, auto) 1fr 56px;
  gap: 12px;
  align-items: center;
}
.shares b {
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
.note {
  margin: 0;
  padding: 10px 14px;
  border-left: 8px solid var(--ochre);
  background: var(--panel);
  font-size: 17px;
}
p {
  margin: 0;
}
dl {
  margin: 0;
  display: grid;
  grid-template-columns: minmax(110px, auto) 1fr;
  font-size: 17px;
}
dt,
dd {
  margin: 0;
  padding: 9px 12px 9px 0;
  border-top: 1px solid var(--rule);
}
dt {
  color: var(--quiet);
}
</style>
