import type { Ref } from 'vue'
import type {
  Condition,
  Engine,
  EvidenceView,
  JobView,
  Observed,
  Record,
  SetUpEntry,
  Standing,
  TestView,
} from '../../../api/client'
import { putBackRecord } from '../putBack'
import type { useRecorder } from '../useRecorder'

/** How something came to be known, and whether it is always like that. */
export type How = Pick<Record, 'source' | 'at_times' | 'times_an_hour'>

/** Records what was noticed, said, done before, repaired and put back. */
export function useNoticed(
  recorder: ReturnType<typeof useRecorder>,
  person: Ref<string>,
  condition: Ref<Condition>,
  engine: Ref<Engine>,
  job: Ref<JobView | undefined>,
) {
  /** What is off now is off in whatever is noticed now. */
  const off = () => job.value?.still_off.map((s) => s.entry) ?? []

  /** What was noticed with the machine as it is, elsewhere, or in a test of the plan. */
  async function noticed(observed: Observed, test?: TestView, how?: How, at?: Standing) {
    const told = how?.source === 'told'
    await recorder.record({
      by: person.value,
      condition: test?.condition ?? at?.set ?? condition.value,
      engine: test?.engine ?? at?.engine ?? (observed.kind === 'heard' ? 'stopped' : engine.value),
      set_up: told ? [] : (test?.set_up.map((s) => s.entry) ?? off()),
      observed,
      repeats: 1,
      ...how,
    })
  }

  /** What was off is back on. */
  async function putBack(what: SetUpEntry) {
    await recorder.record(putBackRecord(job.value, what, person.value, condition.value))
  }

  /** An entry once more, as it was, with this changed. */
  async function again(e: EvidenceView, changed: Partial<Record>) {
    const { observation, condition: at, engine: turns, set_up, repeats, source } = e.entry
    const { at_times, times_an_hour } = e.entry
    // What the bench found is sent from there.
    if (observation.kind === 'benched') return
    // A reading goes in as it was typed; the figure is the server's.
    const observed: Observed =
      observation.kind === 'reading'
        ? {
            kind: 'reading',
            instrument: observation.instrument,
            red: observation.red,
            black: observation.black,
            typed: observation.typed ?? '',
          }
        : observation
    await recorder.record({
      by: person.value,
      condition: at,
      engine: turns ?? 'stopped',
      set_up: set_up ?? [],
      observed,
      repeats: repeats ?? 1,
      source: source ?? 'tested',
      at_times: at_times ?? false,
      times_an_hour: times_an_hour ?? null,
      ...changed,
    })
  }

  type TakeBack = (entry: string, reason: string) => Promise<void>

  /** What was said stands, but comes and goes: said again like that, and undone as it was. */
  async function comesAndGoes(e: EvidenceView, takeBack: TakeBack) {
    // Said first: should undoing fail, nothing is lost.
    await again(e, { at_times: true })
    await takeBack(e.id, 'Off and on')
  }

  /** Something was repaired before an entry: the repair goes in, and the entry after it. */
  async function fixedBetween(e: EvidenceView, repairs: Observed[], takeBack: TakeBack) {
    for (const repair of repairs) await noticed(repair)
    await again(e, {})
    await takeBack(e.id, 'Repaired before this')
  }

  return { noticed, putBack, again, comesAndGoes, fixedBetween }
}
