import { api, type Record, type Recorded, type ShownOfJob } from '../../api/client'
import { useOutbox } from '../../api/useOutbox'

/** What the server answered, and what was shown when it was asked. */
export interface Answered {
  shown: ShownOfJob | undefined
  answer: Recorded
}

/** Sends a job's entries, in order, whatever happens meanwhile. */
export function useRecorder(
  job: string,
  shown: () => ShownOfJob | undefined,
  recorded: (of?: Answered) => Promise<void>,
) {
  return useOutbox(
    job,
    async (entry: Record): Promise<Answered> => {
      const of = shown()
      return { shown: of, answer: await api.record(job, entry, of) }
    },
    recorded,
  )
}
