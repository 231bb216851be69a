import { computed, ref } from 'vue'
import { tone } from '../../../input/tones'

/** A starter cranks so long at most, and then cools so long, in seconds. */
export const CRANK = 5
export const REST = 60

/** When cranking began; the starter's rest outlives the card it was cranked on. */
const began = ref<number>()
const now = ref(0)
let ticking: ReturnType<typeof setInterval> | undefined

function tick() {
  const before = phase.value
  now.value = Date.now()
  if (before === 'cranks' && phase.value === 'rests') tone.trouble()
  if (phase.value === 'ready') stop()
}

function stop() {
  began.value = undefined
  clearInterval(ticking)
  ticking = undefined
}

const passed = computed(() => (began.value == null ? 0 : (now.value - began.value) / 1000))
const phase = computed<'ready' | 'cranks' | 'rests'>(() => {
  if (began.value == null || passed.value >= CRANK + REST) return 'ready'
  return passed.value < CRANK ? 'cranks' : 'rests'
})
/** Whole seconds left of this phase. */
const left = computed(() => {
  if (phase.value === 'ready') return 0
  return Math.ceil((phase.value === 'cranks' ? CRANK : CRANK + REST) - passed.value)
})

/** The clock of the starter: five seconds of cranking, a minute of rest. */
export function useCranking() {
  function start() {
    began.value = now.value = Date.now()
    ticking ??= setInterval(tick, 200)
  }
  return { phase, left, start, stop }
}
