<script setup lang="ts">
import { computed } from 'vue'
import type { BenchView, FindingView } from '../../../api/client'
import {
  AT_MACHINE,
  LEADS,
  becauseWords,
  findingWords,
  operatedWords,
  poleWords,
  wrongIgnition,
} from '../../../words/bench'
import { EFFECT } from '../../../words/codes'
import { capital } from '../../../words/units'
import FitNotice from './FitNotice.vue'
import { SAY } from '../../../words/say'

/** What is wrong with a switch, and what that does; what its operations were worth. */
const props = defineProps<{ view: BenchView }>()

/** What its machine does, alike in several moments of its use said once. */
function shows(f: FindingView): string {
  const by = new Map<string, string[]>()
  for (const s of f.on_machine?.shows ?? []) {
    const effect = s.effects.map((e) => EFFECT[e]).join(', ')
    by.set(effect, [...(by.get(effect) ?? []), s.when])
  }
  return [...by].map(([effect, when]) => `${effect} (${when.join('; ')})`).join('; ')
}

/** What it can still be, where its kind is not known. */
const kinds = computed(() => {
  const [first, ...others] = props.view.identities
  if (!first) return ''
  const orders = props.view.identities.reduce((n, i) => n + i.count, 0)
  const many = `${others.length + 1} switch types match, ${orders} possible layouts.`
  return others.length
    ? many
    : `${first.name}: ${orders} possible ${orders === 1 ? 'layout' : 'layouts'}.`
})

/** Of terminals that no reading at the switch tells apart, how the machine tells them. */
const alike = computed(() => {
  const [first] = props.view.identities
  if (!first || props.view.next.kind === 'identify') return []
  const many = Object.entries(first.candidates).filter(([, c]) => c.length > 1)
  const functions = new Set(many.flatMap(([, c]) => c.map((x) => x.function)))
  return [...functions].flatMap((f) => (AT_MACHINE[f] ? [{ f, how: AT_MACHINE[f] }] : []))
})
</script>

<template>
  <div class="found">
    <p v-if="view.leads && LEADS[view.leads.verdict]" class="warn" role="alert">
      <b>{{ SAY.bench.leads }}</b> {{ LEADS[view.leads.verdict] }}
    </p>
    <p v-if="wrongIgnition(view) && !view.fit" class="warn">{{ wrongIgnition(view) }}</p>
    <p v-if="view.verdict === 'bad' && !view.findings.length" class="warn">
      No layout makes this a good {{ view.subject.profile?.name.toLowerCase() }}: it is bad, or
      another type. See Which is which.
    </p>
    <ul v-if="view.findings.length" :aria-label="SAY.bench.whatIsWrong">
      <li v-for="(f, i) in view.findings" :key="i">
        <b>{{ findingWords(f, view.subject) }}.</b
        >{{ becauseWords(f) ? ` ${capital(becauseWords(f))}.` : '' }}
        <small v-if="f.on_machine && view.machine">
          On the {{ view.machine.machine }}:
          <template v-if="f.on_machine.shows.length">{{ shows(f) }}</template><template v-else>{{
            SAY.bench.nothingAnOperatorWouldNotice
          }}</template
          ><template v-if="f.on_machine.breaks.length"
            >. Breaks: {{ f.on_machine.breaks.join('; ') }}</template
          >.
        </small>
      </li>
    </ul>
    <FitNotice :view="view" />
    <p v-for="c in view.conflicts" :key="c" class="conflict">{{ c }} Probe these again.</p>
    <p v-for="a in view.alike" :key="a.one + a.other" class="conflict">
      “{{ a.one }}” and “{{ a.other }}” are nearly the same name: one terminal, or two?
    </p>
    <p v-for="(o, i) in view.operated" :key="`o${i}`" :class="{ bad: o.below == null }">
      {{ operatedWords(o, view.subject) }}
    </p>
    <p v-if="view.poles.length && view.subject.kind !== 'key-switch'">
      Poles found: {{ view.poles.map(poleWords).join('; ') }}.
    </p>
    <p v-if="view.identities.length">
      <b>{{ kinds }}</b>
      <router-link class="to" :to="`/bench/${view.id}/which`">{{
        SAY.bench.whichTerminalIsWhich
      }}</router-link>
    </p>
    <p v-if="view.subject.profile?.notes" class="quiet">{{ view.subject.profile.notes }}</p>
    <p v-if="alike.length" class="quiet">
      {{ SAY.bench.noReadingAtTheSwitch }}
      <template v-for="(a, i) in alike" :key="a.f"
        >{{ i ? '; ' : '' }}{{ a.f }}: {{ a.how }}</template
      >.
    </p>
  </div>
</template>

<style scoped>
.found {
  display: grid;
  gap: 6px;
  font-size: 17px;
  line-height: 1.3;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 8px;
}
li {
  padding-left: 12px;
  border-left: 7px solid var(--plum);
}
li b {
  color: var(--plum);
}
small {
  display: block;
  font-size: 15px;
  color: var(--quiet);
}
p {
  margin: 0;
}
.warn {
  padding: 8px 12px;
  border: 3px double var(--plum);
  border-radius: 8px;
  font-size: 16px;
}
.to {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.conflict {
  padding-left: 12px;
  border-left: 7px dotted var(--plum);
}
.bad {
  font-weight: 700;
}
</style>
