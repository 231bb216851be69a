<script setup lang="ts">
import { computed, ref } from 'vue'
import type { BenchView, CellView, SeenAtBench } from '../../../api/client'
import ContactStates from '../../../pictures/ContactStates.vue'
import KeyTable from '../../../pictures/KeyTable.vue'
import SwitchBack from '../../../pictures/SwitchBack.vue'
import BenchColumns from './BenchColumns.vue'
import FindingList from '../verdict/FindingList.vue'
import NextProbe from '../probe/NextProbe.vue'
import type { Probe } from '../probe/probe'
import type { Said } from '../useSwitch'
import { SAY } from '../../../words/say'

/** The table of a switch: what should be, what was found, what to probe next. */
const props = defineProps<{ view: BenchView; open: boolean; refused: string; waiting: boolean }>()
const emit = defineEmits<{ record: [seen: SeenAtBench]; change: [to: Said] }>()

const picked = ref<Probe>()
const skipped = ref(false)
const last = ref('')
const card = ref<InstanceType<typeof NextProbe> | null>(null)

/** The leads are looked at once more. */
const again = ref(false)
const leads = computed(
  () => again.value || (props.view.next.kind === 'leads' && !skipped.value && !picked.value),
)
const probe = computed<Probe | undefined>(() => {
  if (picked.value) return { ...picked.value, typed: last.value }
  const { kind, position, from, to, expected, sprung_from } = props.view.next
  if (!position || !from || !to || kind === 'finished') return undefined
  return {
    kind: kind === 'leads' ? 'probe' : kind,
    position,
    from,
    to,
    expected,
    sprungFrom: sprung_from,
    typed: last.value,
  }
})
const at = computed(() => {
  const p = probe.value
  if (!p || leads.value) return undefined
  const order = props.view.subject.terminals
  const [one = '', other = ''] = [p.from, p.to].sort((a, b) => order.indexOf(a) - order.indexOf(b))
  return { position: p.position, one, other }
})
const isKey = computed(() => props.view.subject.kind === 'key-switch')

function pick(c: CellView) {
  picked.value = {
    kind: 'own',
    position: c.position,
    from: c.one,
    to: c.other,
    expected: c.expected,
  }
}

/** What the probes on the pair said, typed, tapped or from the meter. */
function take(typed: string) {
  const p = probe.value
  if (!p || !props.open || leads.value) return
  last.value = typed
  picked.value = undefined
  emit('record', {
    kind: 'probe',
    position: p.position,
    from: p.from,
    to: p.to,
    typed,
    sprung_from: p.sprungFrom ?? null,
    worked_by: 'hand',
  })
}

function takeLeads(touching: string, apart: string) {
  again.value = false
  emit('record', { kind: 'leads', touching, apart })
}

/** On to the next cell of the table, or back. */
function step(by: 1 | -1) {
  const { cells } = props.view
  const now = at.value
  const i = cells.findIndex(
    (c) => c.position === now?.position && c.one === now.one && c.other === now.other,
  )
  const next = cells[(i + by + cells.length) % cells.length]
  if (next) pick(next)
}

function begin(text: string) {
  if (!leads.value) card.value?.begin(text)
}

defineExpose({ take, step, begin })
</script>

<template>
  <BenchColumns do-first>
    <section :aria-label="SAY.bench.table">
      <slot name="head" />
      <KeyTable :view="view" :at="at" :picks="open" @pick="pick" />
      <ContactStates
        v-if="!isKey"
        class="states"
        :view="view"
        :at="leads ? undefined : probe?.position"
        :red="leads ? undefined : probe?.from"
        :black="leads ? undefined : probe?.to"
      />
    </section>
    <template #aside>
      <NextProbe
        v-if="open"
        ref="card"
        class="no-print"
        :view="view"
        :probe="probe"
        :leads="leads"
        :refused="refused"
        :waiting="waiting"
        @answer="take"
        @leads="takeLeads"
        @skip="((skipped = true), (again = false))"
        @again="again = true"
        @plan="picked = undefined"
        @operate="(operations) => emit('change', { subject: { ...view.subject, operations } })"
      />
      <FindingList v-if="view.next.kind === 'finished'" :view="view" />
      <slot name="meter" />
      <SwitchBack
        v-if="isKey"
        :subject="view.subject"
        :red="leads ? undefined : probe?.from"
        :black="leads ? undefined : probe?.to"
      />
      <FindingList v-if="view.next.kind !== 'finished'" :view="view" />
    </template>
  </BenchColumns>
</template>

<style scoped>
.states {
  max-width: 620px;
  margin-top: 14px;
}
@media print {
  .states {
    max-width: 400px;
    margin-top: 0;
  }
}
</style>
