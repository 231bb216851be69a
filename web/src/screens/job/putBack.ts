import type { Condition, JobView, Record, SetUpEntry } from '../../api/client'

/** What goes into the log once something that was off is back on: all else that is off stays off. */
export function putBackRecord(
  job: JobView | undefined,
  what: SetUpEntry,
  by: string,
  condition: Condition,
): Omit<Record, 'id'> {
  const same = JSON.stringify(what)
  const off = job?.still_off.map((s) => s.entry) ?? []
  return {
    by,
    condition,
    engine: 'stopped',
    set_up: off.filter((s) => JSON.stringify(s) !== same),
    observed: { kind: 'put-back', what },
    repeats: 1,
  }
}

/** What goes into the log once the jumper cables are off. */
export function cablesOffRecord(job: JobView | undefined, by: string): Omit<Record, 'id'> {
  return {
    by,
    condition: {},
    engine: 'stopped',
    set_up: job?.still_off.map((s) => s.entry) ?? [],
    observed: { kind: 'battery', event: 'jumper-off' },
    repeats: 1,
  }
}
