<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import {
  ApiError,
  api,
  exportAddress,
  type CircuitView,
  type MachineDetail,
  type Standing,
  type WaysView,
} from '../../api/client'
import GateTrack from '../../pictures/GateTrack.vue'
import KillLadder from '../../pictures/KillLadder.vue'
import CircuitTabs from '../CircuitTabs.vue'
import { saveSvg } from '../saveSvg'
import WayLine from './WayLine.vue'
import { SAY } from '../../words/say'

const props = defineProps<{ detail: MachineDetail; standing: Standing }>()
const emit = defineEmits<{ go: [at: Standing] }>()
const route = useRoute()
const router = useRouter()
const picture = ref<HTMLElement | null>(null)
const view = ref<CircuitView>()
const ways = ref<WaysView>()
const trouble = ref('')
const chosen = ref<string>()

const circuit = computed({
  get: () => {
    const named = (id: unknown) => props.detail.circuits.find((c) => c.id === id)
    const known = named(route.query.circuit) ?? named('start') ?? props.detail.circuits[0]
    return known?.id ?? ''
  },
  set: (id) => void router.replace({ query: { ...route.query, circuit: id } }),
})

let asked = 0
watch(
  () => [circuit.value, props.standing],
  async () => {
    const mine = ++asked
    try {
      const [drawn, led] = await Promise.all([
        api.machineCircuit(props.detail.name, circuit.value, props.standing),
        api.ways(props.detail.name, circuit.value, props.standing),
      ])
      if (mine !== asked) return
      view.value = drawn
      ways.value = led
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error.message
    }
  },
  { immediate: true },
)

const point = computed(() =>
  view.value?.shape === 'track'
    ? view.value.points.find((p) => p.point.terminal === chosen.value)
    : undefined,
)

function save() {
  const svg = picture.value?.querySelector('svg')
  if (svg) saveSvg(svg, `${props.detail.name} ${circuit.value}.svg`)
}
</script>

<template>
  <section class="circuits" :aria-label="SAY.common.circuits">
    <div class="head no-print">
      <CircuitTabs v-model="circuit" :circuits="detail.circuits" />
      <div>
        <v-btn size="small" variant="text" @click="save">{{ SAY.machine.saveAsSvg }}</v-btn>
        <v-btn
          size="small"
          variant="text"
          :href="exportAddress(detail.name, 'netlist.cir', standing)"
          download
          >{{ SAY.machine.spiceNetlist }}</v-btn
        >
      </div>
    </div>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <WayLine
      v-if="ways && view"
      :ways="ways"
      :controls="detail.controls"
      :standing="standing"
      :kills="view.shape === 'ladder' && !view.fires_grounded"
      @set="(set) => emit('go', { set, engine: standing.engine })"
    />
    <div ref="picture">
      <GateTrack
        v-if="view?.shape === 'track'"
        :trace="view"
        :chosen="chosen"
        sure
        @choose="chosen = chosen === $event ? undefined : $event"
      />
      <KillLadder v-else-if="view?.shape === 'ladder'" :ladder="view" />
    </div>
    <p v-if="point" class="point" role="status">
      <b>{{ point.point.name }}</b>, {{ point.point.place
      }}<template v-if="point.point.cover">, {{ point.point.cover }}</template>
      <template v-if="point.point.colors.length">
        · {{ point.point.colors.join(', ') }} wire</template
      >
      <template v-if="point.point.place_caution"> · {{ point.point.place_caution }}</template>
    </p>
  </section>
</template>

<style scoped>
.circuits {
  padding: 0 20px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: center;
}
.point {
  margin: 6px 0 0;
  font-size: 18px;
}
</style>
