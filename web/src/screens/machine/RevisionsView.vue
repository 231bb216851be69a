<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import {
  ApiError,
  api,
  type DifferenceView,
  type MachineDetail,
  type RevisionView,
} from '../../api/client'
import { SAY } from '../../words/say'
import { usePerson } from '../usePerson'
import DifferencePanel from './revisions/DifferencePanel.vue'
import RevisionLine from './revisions/RevisionLine.vue'

/** What a machine's drawing was before, who changed it and why, and what that changed. */
const props = defineProps<{ detail: MachineDetail }>()
const emit = defineEmits<{ restored: [] }>()
const route = useRoute()
const router = useRouter()
const { person } = usePerson()

const revisions = ref<RevisionView[]>()
const difference = ref<DifferenceView>()
const trouble = ref('')
const said = ref('')
const busy = ref(false)
const held = ref<HTMLElement | null>(null)

const newest = computed(() => revisions.value?.[0]?.revision ?? 1)
const asked = (key: string) => {
  const number = Number(route.query[key])
  return revisions.value?.some((r) => r.revision === number) ? number : undefined
}
const to = computed(() => asked('to') ?? newest.value)
const from = computed(() => asked('from') ?? Math.max(1, to.value - 1))
const first = computed(() => revisions.value?.length === 1)
const choices = computed(() =>
  (revisions.value ?? []).map((r) => ({ value: r.revision, title: `Revision ${r.revision}` })),
)

async function tolerant(work: () => Promise<void>) {
  busy.value = true
  trouble.value = ''
  try {
    await work()
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    trouble.value = error.message
  } finally {
    busy.value = false
  }
}

function hold(between: { from?: number; to?: number }) {
  const now = { from: from.value, to: to.value, ...between }
  void router.replace({ query: { ...route.query, ...now } })
}

/** What changed comes to where one looks: on a phone it is below the list. */
function show(revision: number) {
  hold({ from: Math.max(1, revision - 1), to: revision })
  held.value?.scrollIntoView({ block: 'nearest' })
}

async function load() {
  await tolerant(async () => {
    revisions.value = await api.revisions(props.detail.name)
  })
}

/** A revision that lacks what the machine came in with, until somebody says that it is off. */
const asks = ref<{ revision: number; sentence: string }>()

async function restore(revision: number, takenOff = false) {
  asks.value = undefined
  said.value = ''
  await tolerant(async () => {
    const back = { revision, by: person.value, taken_off: takenOff }
    try {
      revisions.value = await api.restoreRevision(props.detail.name, back)
    } catch (error) {
      if (!(error instanceof ApiError) || error.status !== 409) throw error
      asks.value = { revision, sentence: error.message }
      return
    }
    said.value = `Revision ${newest.value} is the drawing of revision ${revision} again.`
    hold({ from: newest.value - 1, to: newest.value })
    emit('restored')
  })
}

let latest = 0
watch([from, to, revisions], async () => {
  if (!revisions.value || first.value) return
  const mine = ++latest
  await tolerant(async () => {
    const found = await api.difference(props.detail.name, from.value, to.value)
    // A slower answer to an earlier question is not shown over a later one.
    if (mine === latest) difference.value = found
  })
})
void load()
</script>

<template>
  <section class="revisions" :aria-label="SAY.revisions.title">
    <p v-if="trouble" role="alert" class="trouble">{{ trouble }}</p>
    <p v-if="said" role="status" class="said">{{ said }}</p>
    <div v-if="asks" class="asks" role="alert">
      <p>{{ asks.sentence }}</p>
      <p class="buttons">
        <v-btn height="48" class="strong" :disabled="busy" @click="restore(asks.revision, true)">{{
          SAY.revisions.itIsOff
        }}</v-btn>
        <v-btn height="48" @click="asks = undefined">{{ SAY.revisions.stillOn }}</v-btn>
      </p>
    </div>
    <p v-if="!revisions && !trouble" class="quiet" role="status">{{ SAY.common.loading }}</p>
    <ol v-if="revisions" :aria-label="SAY.revisions.title">
      <RevisionLine
        v-for="r in revisions"
        :key="r.id"
        :of="r"
        :newest="r.revision === newest"
        :shown="!first && r.revision === to"
        :only="first"
        :busy="busy"
        @show="show(r.revision)"
        @restore="restore(r.revision)"
      />
    </ol>
    <p v-if="first" class="quiet">{{ SAY.revisions.onlyOne }}</p>
    <div v-else-if="revisions" ref="held" class="held">
      <div class="between no-print">
        <v-select
          :model-value="from"
          :items="choices"
          :label="SAY.revisions.from"
          hide-details
          @update:model-value="hold({ from: Number($event) })"
        />
        <v-select
          :model-value="to"
          :items="choices"
          :label="SAY.revisions.to"
          hide-details
          @update:model-value="hold({ to: Number($event) })"
        />
      </div>
      <DifferencePanel v-if="difference" :of="difference" :detail="detail" />
      <p v-else-if="!trouble" class="quiet" role="status">{{ SAY.revisions.working }}</p>
    </div>
  </section>
</template>

<style scoped>
.revisions {
  display: grid;
  grid-template-columns: minmax(300px, 1fr) minmax(0, 2fr);
  gap: 10px 28px;
  align-items: start;
  padding: 0 20px;
}
.trouble,
.asks,
.said {
  grid-column: 1 / -1;
  margin: 0;
  padding: 8px 14px;
  font-size: 17px;
  font-weight: 600;
  background: var(--panel);
  border-left: 8px solid var(--plum);
}
.said {
  border-color: var(--moss);
}
.asks p {
  margin: 0 0 8px;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
.between {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  max-width: 460px;
  margin-bottom: 14px;
}
@media (max-width: 900px) {
  .revisions {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
