import type { DiagnosisView, JobView } from '../../api/client'

/** The stations of a job, in their order. */
export const STATIONS = ['complaint', 'test', 'fault', 'repair', 'check', 'give-back'] as const
export type Station = (typeof STATIONS)[number]

/** Where a job is now: by what was told, found, repaired and checked. */
export function stationOf(job: JobView, diagnosis: DiagnosisView): Station {
  const standing = job.evidence.filter((e) => !e.voided)
  const verdict = job.verdicts.filter((v) => !v.voided).at(-1)
  const nothing = verdict?.units.every((u) => u.kind === 'nothing') ?? false
  if (job.status === 'closed') return 'give-back'
  const repaired = standing.some((e) => e.entry.observation.kind === 'repaired')
  if (repaired || nothing) {
    const tests = [diagnosis.reproduce, ...diagnosis.tests]
    return tests.some((t) => t?.why === 'recheck') ? 'check' : 'give-back'
  }
  if (verdict) return 'repair'
  if (diagnosis.conclusion?.confirmed) return 'fault'
  return standing.length ? 'test' : 'complaint'
}
