import type { EvidenceView, JobView } from '../../api/client'

/** What of a job's log stands in which part of a sheet. */
export interface Chapters {
  repairs: EvidenceView[]
  /** What was tried on the machine since the last repair. */
  checks: EvidenceView[]
  counted: EvidenceView[]
  undone: EvidenceView[]
}

const TRIED = ['heard', 'engine', 'blades', 'lamp', 'ran']

export function chaptersOf(job: JobView): Chapters {
  const counted = job.evidence.filter((e) => !e.voided)
  const kind = (e: EvidenceView) => e.entry.observation.kind
  const repairs = counted.filter((e) => kind(e) === 'repaired')
  const last = repairs.at(-1)?.sequence
  const checks = counted.filter(
    (e) =>
      last !== undefined &&
      e.sequence > last &&
      e.entry.source !== 'told' &&
      TRIED.includes(kind(e)),
  )
  return { repairs, checks, counted, undone: job.evidence.filter((e) => e.voided) }
}
