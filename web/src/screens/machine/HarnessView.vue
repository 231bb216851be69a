<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import {
  ApiError,
  api,
  type HarnessView,
  type MachineDetail,
  type SnapshotView,
} from '../../api/client'
import { layHarness, type HarnessLayout } from '../../pictures/harnessLayout'
import HarnessMap from '../../pictures/HarnessMap.vue'
import { saveSvg } from '../saveSvg'
import PartCard from './PartCard.vue'
import WireCard from './WireCard.vue'
import { SAY } from '../../words/say'

const props = defineProps<{
  detail: MachineDetail
  snapshot: SnapshotView
  changed: string[]
}>()

const harness = ref<HarnessView>()
const layout = shallowRef<HarnessLayout>()
const map = ref<InstanceType<typeof HarnessMap> | null>(null)
const chosen = ref<string>()
const trouble = ref('')
/** Milliseconds that the layout took. */
const took = ref(0)

onMounted(async () => {
  try {
    harness.value = await api.harness(props.detail.name)
    const began = performance.now()
    layout.value = await layHarness(harness.value)
    took.value = Math.round(performance.now() - began)
  } catch (error) {
    trouble.value = error instanceof ApiError ? error.message : 'The map could not be laid out.'
  }
})

const run = computed(() => harness.value?.wires.find((w) => w.id === chosen.value))
const part = computed(() => harness.value?.parts.find((p) => p.id === chosen.value))
const choices = computed(() => [
  ...(layout.value?.parts.map((p) => ({ title: p.part.name, value: p.part.id })) ?? []),
  ...(harness.value?.wires.map((w) => ({
    title: `${w.id} ${w.color ?? ''}, ${w.from.part_name} to ${w.to.part_name}`,
    value: w.id,
  })) ?? []),
])

function find(id: string | null) {
  chosen.value = id ?? undefined
  if (id) map.value?.show(id)
}

function save() {
  const svg = document.querySelector<SVGSVGElement>('.map svg')
  if (svg) saveSvg(svg, `${props.detail.name} harness.svg`)
}
</script>

<template>
  <section class="harness" :aria-label="SAY.common.harnessMap" :data-took="took">
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <p v-else-if="!layout" class="quiet" role="status">Drawing {{ detail.wires }} wires...</p>
    <template v-else>
      <div class="head">
        <v-autocomplete
          class="find no-print"
          :model-value="chosen"
          :items="choices"
          :label="SAY.machine.findAWireOrA"
          clearable
          hide-details
          @update:model-value="find"
        />
        <ul class="legend">
          <li><i class="supply" /> {{ SAY.machine.batteryGetsHere }}</li>
          <li><i class="ground" /> {{ SAY.machine.grounded }}</li>
          <li><i class="between" /> {{ SAY.machine.throughALoad }}</li>
          <li><i class="dead" /> {{ SAY.machine.dead }}</li>
          <li><i class="splice" /> {{ SAY.machine.joined }}</li>
          <li>
            <svg width="16" height="14" aria-hidden="true">
              <path d="M1 3h14M4 7h8M6.5 11h3" />
            </svg>
            {{ SAY.machine.boltedToTheFrame }}
          </li>
          <li v-if="layout?.runs.some((r) => r.run?.usual)">
            <i class="usual" /> {{ SAY.machine.usualNotTraced }}
          </li>
          <li v-if="changed.length"><i class="changed" /> {{ SAY.machine.changed }}</li>
        </ul>
        <v-btn class="no-print" size="small" variant="text" @click="save">{{
          SAY.machine.saveAsSvg
        }}</v-btn>
      </div>
      <div class="frame">
        <HarnessMap
          ref="map"
          class="map"
          :layout="layout"
          :wires="snapshot.wires"
          :changed="changed"
          :chosen="chosen"
          @choose="chosen = chosen === $event ? undefined : $event"
        />
        <div v-if="run || part" class="card" aria-live="polite">
          <v-btn
            class="close no-print"
            size="small"
            variant="text"
            :aria-label="SAY.common.close"
            min-width="44"
            @click="chosen = undefined"
            >✕</v-btn
          >
          <WireCard
            v-if="run"
            :run="run"
            :at="snapshot.wires.find((w) => w.id === run?.id)"
            @choose="find"
          />
          <PartCard v-else-if="part" :part="part" @choose="find" />
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.harness {
  padding: 0 20px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
  margin-bottom: 6px;
}
.find {
  flex: 0 1 260px;
}
.frame {
  position: relative;
}
.map {
  height: max(430px, calc(100vh - 366px));
  border: 1px solid var(--rule);
  border-radius: 10px;
  overflow: hidden;
}
.card {
  position: absolute;
  top: 8px;
  left: 8px;
  width: min(340px, calc(100% - 16px));
  max-height: calc(100% - 70px);
  overflow: auto;
  padding: 12px 14px;
  background: var(--panel);
  border: 2px solid var(--ink);
  border-radius: 10px;
  font-size: 17px;
}
.close {
  position: absolute;
  top: 4px;
  right: 4px;
}
p {
  margin: 0;
}
.legend {
  display: flex;
  flex: 1;
  flex-wrap: wrap;
  gap: 2px 16px;
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 15px;
}
.legend li {
  display: flex;
  gap: 6px;
  align-items: center;
}
.legend path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
i {
  width: 30px;
  border-top: 2px dashed var(--dead);
}
i.usual {
  border-top: 3px dotted var(--dead);
}
i.supply {
  border-top: 5px solid var(--ember);
}
i.between {
  border-top: 2px solid var(--ember);
}
i.ground {
  border-top: 6px double var(--slate);
}
i.splice {
  border-top: 6px solid var(--ink);
}
i.changed {
  border-top: 12px solid var(--ochre-wash);
}
</style>
