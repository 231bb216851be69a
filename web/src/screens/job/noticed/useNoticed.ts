import type { Ref } from 'vue'
import type {
  Condition,
  Engine,
  EvidenceView,
  Observed,
  Record,
  TestView,
} from '../../../api/client'
import type { useRecorder } from '../useRecorder'

/** How something came to be known, and whether it is always so. */
export type How = Pick<Record, 'source' | 'at_times' | 'times_an_hour'>

/** Records what was noticed, said and done before. */
export function useNoticed(
  recorder: ReturnType<typeof useRecorder>,
  person: Ref<string>,
  condition: Ref<Condition>,
  engine: Ref<Engine>,
) {
  /** What was noticed as the machine stands, or in a test of the plan. */
  async function noticed(observed: Observed, test?: TestView, how?: How) {
    await recorder.record({
      by: person.value,
      condition: test?.condition ?? condition.value,
      engine: test?.engine ?? (observed.kind === 'heard' ? 'stopped' : engine.value),
      set_up: [],
      observed,
      repeats: 1,
      ...how,
    })
  }

  /** What was said stands, but comes and goes: said again so, and taken back as it was. */
  async function comesAndGoes(
    e: EvidenceView,
    takeBack: (entry: string, reason: string) => Promise<void>,
  ) {
    const { observation: observed, condition: at, engine: turns, set_up, repeats, source } = e.entry
    if (observed.kind === 'reading') return
    // Said first: should taking back fail, nothing is lost.
    await recorder.record({
      by: person.value,
      condition: at,
      engine: turns ?? 'stopped',
      set_up: set_up ?? [],
      observed,
      repeats: repeats ?? 1,
      source: source ?? 'tested',
      at_times: true,
    })
    await takeBack(e.id, 'Comes and goes')
  }

  return { noticed, comesAndGoes }
}
