<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import type { RunView, WireView } from '../api/client'
import { PART_KIND } from '../words/codes'
import { standsWords } from '../words/stands'
import type { HarnessLayout, PlacedPart, PlacedPort, PlacedRun } from './harnessLayout'
import { useZoom } from './useZoom'
import { SAY } from '../words/say'

const props = defineProps<{
  layout: HarnessLayout
  /** How each wire stands in the condition set now. */
  wires: WireView[]
  /** Ids of wires that stand otherwise than in the condition compared with. */
  changed: string[]
  /** Id of the wire or part that is spoken of. */
  chosen: string | undefined
}>()
const emit = defineEmits<{ choose: [id: string] }>()

const svg = ref<SVGSVGElement | null>(null)
const { transform, by, fit, open, to } = useZoom(svg, () => [
  props.layout.width,
  props.layout.height,
])
watch(
  () => [svg.value, props.layout],
  () => {
    // A large harness opens at its key switch, large enough to read.
    const { parts } = props.layout
    const first = parts.find((p) => p.part.kind === 'key-switch') ?? parts[0]
    void nextTick(() => first && open([first.x, first.y]))
  },
)

const byId = computed(() => new Map(props.wires.map((w) => [w.id, w])))

function stands(run: PlacedRun): string {
  if (!run.run) return 'splice'
  return byId.value.get(run.id)?.stands ?? 'dead'
}

function label({ id, color, from, to: end }: RunView): string {
  const at = byId.value.get(id)
  const way = `from ${from.part_name} to ${end.part_name}`
  return `Wire ${id}, ${color ?? ''}, ${way}, ${at ? standsWords(at.stands) : ''}`
}

function partLabel({ lines, ports, part }: PlacedPart): string {
  return `${lines.join(' ')} ${ports.map((p) => p.terminal).join(' ')}, ${PART_KIND[part.kind]}`
}

function portText(port: PlacedPort) {
  switch (port.side) {
    case 'left':
      return { x: port.x + 8, y: port.y + 4, anchor: 'start' }
    case 'right':
      return { x: port.x - 8, y: port.y + 4, anchor: 'end' }
    case 'top':
      return { x: port.x, y: port.y + 16, anchor: 'middle' }
    default:
      return { x: port.x, y: port.y - 8, anchor: 'middle' }
  }
}

/** Brings what was found by name into sight. */
watch(
  () => props.chosen,
  (id) => {
    const part = props.layout.parts.find((p) => p.part.id === id)
    if (part) to(part.x + part.width / 2, part.y + part.height / 2)
  },
)

function show(id: string) {
  const run = props.layout.runs.find((r) => r.id === id)
  if (run) to(run.middle.x, run.middle.y)
}
defineExpose({ show, fit })
</script>

<template>
  <div class="map">
    <div class="zoom no-print" role="group" :aria-label="SAY.pictures.zoom">
      <v-btn :aria-label="SAY.pictures.closer" min-width="44" @click="by(1.4)">+</v-btn>
      <v-btn :aria-label="SAY.pictures.furtherAway" min-width="44" @click="by(1 / 1.4)">−</v-btn>
      <v-btn :aria-label="SAY.pictures.allOfIt" @click="fit">{{ SAY.pictures.all }}</v-btn>
    </div>
    <svg ref="svg" role="group" :aria-label="SAY.common.harnessMap">
      <g :transform="transform">
        <g
          v-for="r in layout.runs"
          :key="r.id"
          class="run"
          :class="[
            stands(r),
            { chosen: r.id === chosen, changed: changed.includes(r.id), usual: r.run?.usual },
          ]"
          :role="r.run ? 'button' : undefined"
          :tabindex="r.run ? 0 : undefined"
          :aria-label="r.run ? label(r.run) : undefined"
          :aria-pressed="r.run ? r.id === chosen : undefined"
          @click="r.run && emit('choose', r.id)"
          @keydown.enter.prevent="r.run && emit('choose', r.id)"
          @keydown.space.prevent="r.run && emit('choose', r.id)"
        >
          <path class="target" :d="r.path" />
          <path v-if="changed.includes(r.id)" class="halo" :d="r.path" />
          <path class="line" :d="r.path" />
          <path v-if="stands(r) === 'ground'" class="core" :d="r.path" />
          <text v-if="r.label" :x="r.label.x" :y="r.label.y">{{ r.label.text }}</text>
        </g>
        <g
          v-for="p in layout.parts"
          :key="p.part.id"
          class="part"
          :class="{ chosen: p.part.id === chosen }"
          role="button"
          tabindex="0"
          :aria-label="partLabel(p)"
          :aria-pressed="p.part.id === chosen"
          @click="emit('choose', p.part.id)"
          @keydown.enter.prevent="emit('choose', p.part.id)"
          @keydown.space.prevent="emit('choose', p.part.id)"
        >
          <rect :x="p.x" :y="p.y" :width="p.width" :height="p.height" rx="7" />
          <text
            v-for="(line, i) in p.lines"
            :key="i"
            class="name"
            :x="p.x + p.width / 2"
            :y="p.y + 17 + i * 16"
          >
            {{ `${line} ` }}
          </text>
          <g v-for="port in p.ports" :key="port.terminal">
            <circle :cx="port.x" :cy="port.y" r="4" />
            <text
              class="port mono"
              :x="portText(port).x"
              :y="portText(port).y"
              :text-anchor="portText(port).anchor"
            >
              {{ `${port.terminal} ` }}
            </text>
          </g>
        </g>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.map {
  position: relative;
  min-width: 0;
}
svg {
  display: block;
  width: 100%;
  height: 100%;
  cursor: grab;
  touch-action: none;
}
.zoom {
  position: absolute;
  bottom: 8px;
  right: 8px;
  display: flex;
  gap: 6px;
}
.zoom .v-btn {
  background: var(--panel);
}
text {
  fill: var(--ink);
  font-size: 12px;
}
.run,
.part {
  cursor: pointer;
}
.run:focus-visible,
.part:focus-visible {
  outline: none;
}
path {
  fill: none;
}
.target {
  stroke: transparent;
  stroke-width: 18;
}
@media (pointer: coarse) {
  .target {
    stroke-width: 40;
  }
}
.line {
  stroke: var(--dead);
  stroke-width: 1.6;
  stroke-dasharray: 5 4;
}
.supply .line {
  stroke: var(--ember);
  stroke-width: 4;
  stroke-dasharray: none;
}
.between .line {
  stroke: var(--ember);
  stroke-width: 1.8;
  stroke-dasharray: none;
}
.ground .line {
  stroke: var(--slate);
  stroke-width: 4.5;
  stroke-dasharray: none;
}
.run.usual .line {
  stroke-width: 2.4;
  stroke-dasharray: 3 5;
}
.run.usual .core {
  display: none;
}
.core {
  stroke: var(--paper);
  stroke-width: 1.5;
}
.splice .line {
  stroke: var(--ink);
  stroke-width: 5;
  stroke-dasharray: none;
}
.halo {
  stroke: var(--ochre);
  stroke-width: 14;
  opacity: 0.35;
}
.run:hover .target,
.run.chosen .target,
.run:focus-visible .target {
  stroke: var(--well);
}
.run.chosen text,
.run:focus-visible text {
  font-weight: 700;
  text-decoration: underline;
}
rect {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.part:hover rect,
.part.chosen rect,
.part:focus-visible rect {
  stroke-width: 3.5;
  stroke: var(--slate);
}
.name {
  font-size: 14px;
  font-weight: 700;
  text-anchor: middle;
}
.port {
  fill: var(--quiet);
}
circle {
  fill: var(--ink);
}
.run text {
  text-anchor: middle;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
}
.bolted {
  stroke: var(--ink);
  stroke-width: 1.8;
}
</style>
