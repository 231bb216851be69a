import { computed, onBeforeUnmount, onMounted, ref, shallowRef } from 'vue'
import {
  ApiError,
  api,
  type Engine,
  type JobView,
  type Observed,
  type SetUpEntry,
} from '../api/client'
import { usePerson } from './usePerson'
import { putBackRecord } from './job/putBack'
import { useRecorder } from './job/useRecorder'

/** How often it is looked what others have read, in milliseconds. */
const LOOK_AGAIN = 15_000
/** After a trouble that passes, in milliseconds. */
const TRY_AGAIN = 2000

/** A page about one thing that is read in a job: what it comes to, looked up again and again, and readings
 * recorded and taken back. */
export function useJobReadings<View>(
  id: string,
  /** What it comes to now; nothing where another was asked for meanwhile. */
  look: (seen: View | undefined) => Promise<View | undefined>,
) {
  const job = shallowRef<JobView>()
  const view = shallowRef<View>()
  const trouble = ref('')
  const refused = ref('')
  const { person } = usePerson()

  async function load() {
    try {
      const [own, seen] = await Promise.all([api.job(id), look(view.value)])
      job.value = own
      if (seen) view.value = seen
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error.message
      if (error.passing) window.setTimeout(() => void load(), TRY_AGAIN)
    }
  }

  const recorder = useRecorder(id, () => undefined, load)
  const busy = computed(() => recorder.busy.value)

  let timer: number | undefined
  onMounted(async () => {
    await load()
    await recorder.resume()
    timer = window.setInterval(() => {
      if (!busy.value && !document.hidden) void load()
    }, LOOK_AGAIN)
  })
  onBeforeUnmount(() => window.clearInterval(timer))

  /** Records something as the machine stands; whether it was taken. */
  async function enter(
    observed: Observed,
    condition: { [control: string]: string },
    engine: Engine,
    more: { set_up?: SetUpEntry[]; celsius?: number; idle?: boolean } = {},
  ): Promise<boolean> {
    refused.value = ''
    const set_up = job.value?.still_off.map((s) => s.entry) ?? []
    const entry = { by: person.value, condition, engine, set_up, observed, repeats: 1, ...more }
    const outcome = await recorder.record(entry)
    if (!outcome.kept) refused.value = outcome.problem.field('typed') ?? outcome.problem.sentence
    return outcome.kept
  }

  /** What was off for a reading is back on. */
  const putBack = (what: SetUpEntry) =>
    recorder.record(putBackRecord(job.value, what, person.value, {}))

  async function takeBack(entry: string) {
    refused.value = ''
    try {
      await api.voidEvidence(id, entry, { by: person.value, reason: 'Undone' })
      await load()
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      refused.value = error.message
    }
  }

  return { job, view, trouble, refused, person, recorder, busy, load, enter, putBack, takeBack }
}
