import { v7 as uuid } from 'uuid'
import { ref, type Ref } from 'vue'
import {
  ApiError,
  api,
  type JobView,
  type OpenWiringView,
  type ShownOfJob,
} from '../../../api/client'
import type { Answered } from '../useRecorder'

/** What is done to the job itself: verdicts, taking back, closing. */
export function useActions(
  id: string,
  job: Ref<JobView | undefined>,
  person: Ref<string>,
  trouble: Ref<string>,
  shown: () => ShownOfJob,
  recorded: (of?: Answered) => Promise<void>,
) {
  const busy = ref(false)
  /** The revision of the machine before its drawing was changed here. */
  const before = ref<string>()
  /** What nobody looked at yet, said when the job is to be closed. */
  const unchecked = ref('')

  /** Does it, and reads everything again; what stood in the way is said and stays on screen. */
  async function change(work: () => Promise<Answered | undefined>) {
    busy.value = true
    let problem = ''
    let answered: Answered | undefined
    try {
      answered = await work()
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      problem = error.message
    }
    await recorded(answered)
    if (problem) trouble.value = problem
    busy.value = false
  }

  return {
    busy,
    before,
    unchecked,
    settle: (open: OpenWiringView, choice: string | null) =>
      change(async () => {
        const body = { alternative: open.id, choice }
        before.value = (await api.settleWiring(id, body, person.value)).before
        return undefined
      }),
    correct: (drawing: string) =>
      change(async () => {
        const body = { change: drawing }
        before.value = (await api.correctDrawing(id, body, person.value)).before
        return undefined
      }),
    unsettle: () =>
      change(async () => {
        const body = { revision_id: before.value ?? '' }
        if (before.value) await api.goToRevision(id, body, person.value)
        before.value = undefined
        return undefined
      }),
    /** Goes on with the newest revision of the machine. */
    follow: (revision: string) =>
      change(async () => {
        await api.goToRevision(id, { revision_id: revision }, person.value)
        return undefined
      }),
    keep: (units: string[]) =>
      change(async () => {
        await api.keepVerdict(id, { id: uuid(), by: person.value, units, note: '' })
        return undefined
      }),
    takeBackVerdict: (verdict: string) =>
      change(async () => {
        await api.voidVerdict(id, verdict, { by: person.value, reason: 'Undone' })
        return undefined
      }),
    takeBack: (entry: string, reason: string) =>
      change(async () => {
        const of = shown()
        const answer = await api.voidEvidence(id, entry, { by: person.value, reason }, of)
        return { shown: of, answer }
      }),
    setStatus: (status: 'open' | 'closed', anyway = false) =>
      change(async () => {
        unchecked.value = ''
        try {
          await api.setStatus(id, { version: job.value?.version ?? 0, status, anyway })
        } catch (error) {
          const asks = error instanceof ApiError ? error.field('anyway') : undefined
          if (!asks) throw error
          unchecked.value = asks
        }
        return undefined
      }),
  }
}
