import { onBeforeUnmount, onMounted, ref, shallowRef } from 'vue'
import { ApiError, api, type FusesView, type JobView, type RecordRelease } from '../../api/client'
import { useOutbox } from '../../api/useOutbox'
import { usePerson } from '../usePerson'

/** How often it is looked what others have read, in milliseconds. */
const LOOK_AGAIN = 15_000
/** After a trouble that passes, in milliseconds. */
const TRY_AGAIN = 2000

/** A job's fuses and wires; what is read on a fuse counts for the release, too. */
export function useFuses(id: string) {
  const job = shallowRef<JobView>()
  const view = shallowRef<FusesView>()
  const trouble = ref('')
  const refused = ref('')
  const { person } = usePerson()

  async function load() {
    try {
      const [own, seen] = await Promise.all([api.job(id), api.fuses(id)])
      job.value = own
      view.value = seen
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error.message
      if (error.passing) window.setTimeout(() => void load(), TRY_AGAIN)
    }
  }

  const outbox = useOutbox(
    `release.${id}`,
    (entry: RecordRelease) => api.recordRelease(id, entry),
    load,
  )

  let timer: number | undefined
  onMounted(async () => {
    await load()
    await outbox.resume()
    timer = window.setInterval(() => {
      if (!outbox.busy.value && !document.hidden) void load()
    }, LOOK_AGAIN)
  })
  onBeforeUnmount(() => window.clearInterval(timer))

  /** Records what is printed on a fuse. */
  async function read(fuse: string, amps: number) {
    refused.value = ''
    const by = person.value
    const outcome = await outbox.record({ by, entry: { kind: 'fuse', fuse, amps } })
    if (!outcome.kept) refused.value = outcome.problem.field('amps') ?? outcome.problem.sentence
  }

  return { job, view, trouble, refused, outbox, read }
}
