import { api, type Record } from '../../api/client'
import { useOutbox } from '../../api/useOutbox'

/** Sends a job's entries, in order, whatever happens meanwhile. */
export function useRecorder(job: string, recorded: () => Promise<void>) {
  return useOutbox(
    job,
    (entry: Record) => api.record(job, entry),
    () => recorded(),
  )
}
