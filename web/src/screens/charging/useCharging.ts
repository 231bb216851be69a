import { computed, ref } from 'vue'
import { api, type ChargingView } from '../../api/client'
import type { ChargeKind } from '../../words/charging'
import { useJobReadings } from '../useJobReadings'

/** How a job's machine charges its battery: what was read and what it comes to. */
export function useCharging(id: string) {
  const readings = useJobReadings<ChargingView>(id, () => api.charging(id))
  const { view, busy, enter } = readings
  /** What the mechanic reads, where that is not what is asked for. */
  const chosen = ref<ChargeKind>()
  const system = computed(() => view.value?.system ?? undefined)
  const kinds = computed(() => system.value?.sites.map((s) => s.kind) ?? [])
  const kind = computed(() => chosen.value ?? system.value?.standing.next ?? undefined)
  /** Where the meter goes for it, with what off, and how the machine stands. */
  const site = computed(() => system.value?.sites.find((s) => s.kind === kind.value))

  /** Records what was typed; whether it was taken. */
  async function record(typed: string): Promise<boolean> {
    const here = site.value
    if (busy.value || !typed.trim() || !here) return false
    const [red, black] = here.clamp
      ? [here.clamp.red, here.clamp.black]
      : [here.red.terminal, here.black.terminal]
    const { instrument, condition, engine, idle } = here
    const observed = { kind: 'reading' as const, instrument, red, black, typed }
    const set_up = here.set_up.map((s) => s.entry)
    const kept = await enter(observed, condition, engine, { set_up, idle })
    if (kept) chosen.value = undefined
    return kept
  }

  /** The battery was on a charger: it is read anew. */
  const charged = () => enter({ kind: 'battery', event: 'charged' }, {}, 'stopped')

  return { ...readings, system, kinds, kind, chosen, site, record, charged }
}
