<script setup lang="ts">
import { computed, ref } from 'vue'
import { SAY } from '../../words/say'

/** A field to sign in by finger, pen or mouse. Strokes are x and y, 0 to 1 of the field's width and height. */
const strokes = defineModel<[number, number][][]>({ required: true })
const field = ref<SVGSVGElement>()
const drawing = ref(false)

const lines = computed(() =>
  strokes.value.map((stroke) => stroke.map(([x, y]) => `${x * 300},${y * 100}`).join(' ')),
)

function point(event: PointerEvent): [number, number] {
  const box = field.value!.getBoundingClientRect()
  const share = (at: number, from: number, size: number) =>
    Math.round(Math.min(Math.max((at - from) / size, 0), 1) * 1000) / 1000
  return [share(event.clientX, box.left, box.width), share(event.clientY, box.top, box.height)]
}
function begin(event: PointerEvent) {
  drawing.value = true
  field.value?.setPointerCapture(event.pointerId)
  strokes.value = [...strokes.value, [point(event)]]
}
function draw(event: PointerEvent) {
  if (!drawing.value) return
  const last = strokes.value.at(-1) ?? []
  strokes.value = [...strokes.value.slice(0, -1), [...last, point(event)]]
}
</script>

<template>
  <div class="pad">
    <span id="draw-here" class="quiet">{{ SAY.release.drawHere }}</span>
    <svg
      ref="field"
      viewBox="0 0 300 100"
      preserveAspectRatio="none"
      role="img"
      aria-labelledby="draw-here"
      @pointerdown="begin"
      @pointermove="draw"
      @pointerup="drawing = false"
      @pointercancel="drawing = false"
    >
      <line x1="15" y1="78" x2="285" y2="78" />
      <polyline v-for="(l, i) in lines" :key="i" :points="l" />
    </svg>
    <v-btn v-if="strokes.length" height="44" @click="strokes = []">{{ SAY.release.clear }}</v-btn>
  </div>
</template>

<style scoped>
.pad {
  display: grid;
  gap: 6px;
}
svg {
  width: 100%;
  max-width: 480px;
  height: 150px;
  border: 1px solid var(--dead);
  background: var(--panel);
  touch-action: none;
  cursor: crosshair;
}
line {
  stroke: var(--rule);
}
polyline {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
  stroke-linecap: round;
  stroke-linejoin: round;
  vector-effect: non-scaling-stroke;
}
</style>
