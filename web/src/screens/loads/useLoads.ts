import { computed, ref } from 'vue'
import { api, type Instrument, type LoadsView } from '../../api/client'
import type { LoadNext } from '../../words/loads'
import { useJobReadings } from '../useJobReadings'

/** Everything that a job's machine feeds: what was read of each and what it comes to. */
export function useLoads(id: string, wanted: () => string | undefined) {
  const readings = useJobReadings<LoadsView>(id, () => api.loads(id))
  const { view, busy, enter } = readings
  /** What the mechanic reads, where that is not what is asked for. */
  const chosen = ref<LoadNext>()
  const load = computed(() => {
    const all = view.value?.loads
    return all?.find((l) => l.id === wanted()) ?? all?.find((l) => l.standing.next) ?? all?.[0]
  })
  /** What can be read of it. */
  const kinds = computed(() => {
    const own = load.value
    const all: LoadNext[] = []
    if (own?.ohms_at) all.push('ohms')
    if (own?.on?.red && own.on.black) all.push('volts')
    if (own?.on?.clamp) all.push('amps')
    if (own?.insulation_at) all.push('insulation')
    return all
  })
  const kind = computed(() =>
    chosen.value && kinds.value.includes(chosen.value)
      ? chosen.value
      : (load.value?.standing.next ?? undefined),
  )
  /** Where the meter goes for it, with what off, and how the controls stand. */
  const at = computed(() => {
    const own = load.value
    if (kind.value === 'ohms' || kind.value === 'insulation') {
      const probes = kind.value === 'ohms' ? own?.ohms_at : own?.insulation_at
      return probes && { ...probes, engine: 'stopped' as const, instrument: 'ohmmeter' as const }
    }
    const on = own?.on
    if (!on) return undefined
    const base = { condition: on.condition, engine: on.engine, set_up: [], cautions: on.cautions }
    if (kind.value === 'volts' && on.red && on.black)
      return { ...base, red: on.red, black: on.black, instrument: 'voltmeter' as const }
    return undefined
  })
  const clamp = computed(() => (kind.value === 'amps' ? load.value?.on : undefined))

  /** Records what was typed; whether it was taken. */
  async function record(typed: string, celsius?: number): Promise<boolean> {
    if (busy.value || !typed.trim()) return false
    const around = clamp.value
    const here = at.value
    let kept = false
    if (around?.clamp) {
      const { red, black } = around.clamp
      const observed = reading('clamp', [red, black], typed)
      kept = await enter(observed, around.condition, around.engine)
    } else if (here) {
      const observed = reading(here.instrument, [here.red.terminal, here.black.terminal], typed)
      const set_up = here.set_up.map((s) => s.entry)
      const warm = kind.value === 'ohms' && celsius !== undefined ? { celsius } : {}
      kept = await enter(observed, here.condition, here.engine, { set_up, ...warm })
    }
    if (kept) chosen.value = undefined
    return kept
  }

  return { ...readings, load, kinds, kind, chosen, at, clamp, record }
}

const reading = (instrument: Instrument, [red, black]: [string, string], typed: string) => ({
  kind: 'reading' as const,
  instrument,
  red,
  black,
  typed,
})
