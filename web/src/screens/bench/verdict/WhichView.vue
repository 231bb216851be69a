<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { ApiError, api, type BenchView } from '../../../api/client'
import { FUNCTION, IGNITION_TYPE, pair, positionName } from '../../../words/bench'
import { percent } from '../../../words/numbers'
import { list } from '../../../words/units'
import BenchColumns from '../found/BenchColumns.vue'
import AboutSwitch from '../lay/AboutSwitch.vue'
import LayoutEntry from '../lay/LayoutEntry.vue'
import SaveProfile from '../lay/SaveProfile.vue'
import type { Said } from '../useSwitch'
import { SAY } from '../../../words/say'

/** Which switch it is, and which terminal is which. */
const props = defineProps<{ view: BenchView; open: boolean; refused: string }>()
const emit = defineEmits<{ change: [to: Said] }>()

type Orders = Awaited<ReturnType<typeof api.assignments>>
const orders = ref<Orders>()
const trouble = ref('')

const known = computed(() => props.view.identities.length === 0 && !!props.view.subject.profile)
const single = computed(() => props.view.identities[0])

/** Every order that still fits, up to a thousand of each kind. */
async function showAll() {
  try {
    orders.value = await api.assignments(props.view.id)
    trouble.value = ''
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
  }
}
watch(
  () => props.view.entries,
  () => orders.value && void showAll(),
)

/** Takes it for a kind, its terminals in the first order that fits. */
async function takeFor(profile: string) {
  const [all, profiles] = await Promise.all([api.assignments(props.view.id), api.switchProfiles()])
  const own = all.find((o) => o.profile === profile)
  const document = profiles.find((p) => p.document.id === profile)?.document
  const first = own?.first[0]
  if (!own || !document || !first) return
  const layout = Object.fromEntries(own.terminals.map((t, i) => [t, first[i] ?? '']))
  emit('change', { subject: { ...props.view.subject, profile: document, layout } })
}
</script>

<template>
  <BenchColumns>
    <section :aria-label="SAY.bench.whichSwitchItIs">
      <h2>{{ SAY.bench.whichSwitchItIs }}</h2>
      <p v-if="known">
        {{ SAY.bench.testingItAs }} <b>{{ view.subject.profile?.name }}</b>. Its terminals are
        {{
          Object.keys(view.subject.layout ?? {}).length
            ? SAY.bench.asEntered
            : SAY.bench.asPrintedOnIt
        }}.
        <v-btn
          v-if="open"
          size="small"
          @click="emit('change', { subject: { ...view.subject, profile: null, layout: {} } })"
          >{{ SAY.bench.dontKnow }}</v-btn
        >
      </p>
      <template v-else-if="single">
        <p class="big" role="status">
          {{
            view.identities.length === 1
              ? SAY.bench.oneKindFits
              : `${view.identities.length} switch types match`
          }}, {{ view.identities.reduce((n, i) => n + i.count, 0) }} possible layouts in all.
        </p>
        <div class="kinds">
          <article v-for="i in view.identities" :key="i.profile">
            <h3>
              <span class="share mono">{{ percent(i.share) }}</span> {{ i.name }}
            </h3>
            <p class="quiet">
              {{ i.count }} {{ i.count === 1 ? SAY.bench.layoutFits : SAY.bench.layoutsFit }}.
              <template v-if="i.ignition">{{ IGNITION_TYPE[i.ignition] }}</template>
              <v-btn
                v-if="open"
                class="take"
                size="small"
                height="44"
                @click="takeFor(i.profile)"
                >{{ SAY.bench.itsThisOne }}</v-btn
              >
            </p>
            <table v-if="i === single || view.identities.length <= 3">
              <tbody>
                <tr v-for="t in view.subject.terminals" :key="t">
                  <th scope="row" class="mono">{{ t }}</th>
                  <td v-if="i.candidates[t]?.length === 1">
                    <b>is {{ i.candidates[t][0]?.terminal }}</b
                    >, {{ FUNCTION[i.candidates[t][0]?.function ?? 'contact'] }}
                  </td>
                  <td v-else>
                    {{
                      list(
                        (i.candidates[t] ?? []).map(
                          (c) => `${c.terminal} (${FUNCTION[c.function]})`,
                        ),
                        'or',
                      )
                    }}
                  </td>
                </tr>
              </tbody>
            </table>
          </article>
        </div>
        <v-btn v-if="!orders" @click="showAll">{{ SAY.bench.showEveryLayoutThatFits }}</v-btn>
        <p v-if="trouble" role="alert">{{ trouble }}</p>
        <div v-for="o in orders" :key="o.profile" class="orders">
          <p>
            {{ o.name }}: {{ o.count
            }}{{ o.count > o.first.length ? `, the first ${o.first.length}` : '' }}
          </p>
          <table class="mono">
            <thead>
              <tr>
                <th v-for="t in o.terminals" :key="t" scope="col">{{ t }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(line, n) in o.first.slice(0, 1000)" :key="n">
                <td v-for="(t, m) in line" :key="m">{{ t }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </template>
      <template v-else>
        <p class="big" role="status">{{ SAY.bench.noSwitchTypeOnFile }}</p>
        <template v-if="view.near_misses.length">
          <p>{{ SAY.bench.allButOnePairFits }}</p>
          <ul>
            <li v-for="m in view.near_misses" :key="m.profile">
              <b>{{ m.name }}</b>, but for {{ pair(m.one, m.other) }} in
              {{ positionName(view.subject, m.position) }}. Probe that again.
            </li>
          </ul>
        </template>
        <template v-if="Object.keys(view.by_logic).length">
          <p>{{ SAY.bench.goingByItsPositionsAlone }}</p>
          <table>
            <tbody>
              <tr v-for="(f, t) in view.by_logic" :key="t">
                <th scope="row" class="mono">{{ t }}</th>
                <td>
                  {{
                    f.length
                      ? list(
                          f.map((x) => FUNCTION[x]),
                          'or',
                        )
                      : SAY.bench.notConnected
                  }}
                </td>
              </tr>
            </tbody>
          </table>
        </template>
      </template>
      <p v-if="view.ignitions.length > 1" class="warn">
        {{ SAY.bench.someOfTheseAreFor }}
      </p>
    </section>
    <template #aside>
      <LayoutEntry :view="view" :open="open" :refused="refused" @change="emit('change', $event)" />
      <SaveProfile :view="view" />
      <AboutSwitch :view="view" :open="open" @change="emit('change', $event)" />
      <slot name="meter" />
    </template>
  </BenchColumns>
</template>

<style scoped>
h3 {
  margin: 12px 0 0;
  font-size: 19px;
}
.kinds {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(340px, 1fr));
  gap: 0 24px;
  margin-bottom: 12px;
}
.take {
  display: block;
}
.share {
  color: var(--plum);
}
p {
  margin: 4px 0;
}
.big {
  font-size: 24px;
  font-weight: 700;
}
table {
  border-collapse: collapse;
  font-size: 18px;
}
th,
td {
  padding: 5px 14px 5px 0;
  border-top: 1px solid var(--rule);
  text-align: left;
}
th {
  min-width: 50px;
  font-size: 20px;
}
.orders {
  max-height: 340px;
  overflow: auto;
}
.warn {
  padding: 8px 12px;
  border: 3px double var(--plum);
  border-radius: 8px;
  font-weight: 600;
}
</style>
