import { v7 as uuid } from 'uuid'
import { ref, type Ref } from 'vue'
import { ApiError, api, type JobView } from '../../../api/client'

/** What is done to the job itself: verdicts, taking back, closing. */
export function useActions(
  id: string,
  job: Ref<JobView | undefined>,
  person: Ref<string>,
  trouble: Ref<string>,
  refresh: () => Promise<void>,
) {
  const busy = ref(false)

  /** Does it, and reads everything again; what stood in the way is said and stays on screen. */
  async function change(work: () => Promise<unknown>) {
    busy.value = true
    let problem = ''
    try {
      await work()
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      problem = error.message
    }
    await refresh()
    if (problem) trouble.value = problem
    busy.value = false
  }

  return {
    busy,
    keep: (units: string[]) =>
      change(() => api.keepVerdict(id, { id: uuid(), by: person.value, units, note: '' })),
    takeBackVerdict: (verdict: string) =>
      change(() => api.voidVerdict(id, verdict, { by: person.value, reason: 'Taken back' })),
    takeBack: (entry: string, reason: string) =>
      change(() => api.voidEvidence(id, entry, { by: person.value, reason })),
    setStatus: (status: 'open' | 'closed') =>
      change(() => api.setStatus(id, { version: job.value?.version ?? 0, status })),
  }
}
