import { computed, onBeforeUnmount, onMounted, ref, shallowRef } from 'vue'
import {
  ApiError,
  api,
  type JobView,
  type RecordRelease,
  type ReleaseEntry,
  type ReleaseView,
  type Saw,
  type SetUpEntry,
} from '../../api/client'
import { useOutbox } from '../../api/useOutbox'
import { cablesOffRecord, putBackRecord } from '../job/putBack'
import { useRecorder } from '../job/useRecorder'
import { usePerson } from '../usePerson'
import { SAWS } from '../../words/release'

/** How often it is looked what others have done, in milliseconds. */
const LOOK_AGAIN = 15_000

/** A job's release: its steps, what was seen, and what is still in the way. */
export function useRelease(id: string) {
  const job = shallowRef<JobView>()
  const view = shallowRef<ReleaseView>()
  /** The step that is looked at; past the last is the end. */
  const at = ref(0)
  /** It was come to by answering the one before it just now: the machine stands as that left it. */
  const followed = ref(false)
  const trouble = ref('')
  const refused = ref('')
  /** For those who listen. */
  const said = ref('')
  const { person } = usePerson()

  const end = computed(() => view.value?.steps.length ?? 0)
  const step = computed(() => view.value?.steps[at.value])
  const open = computed(() => !!view.value?.open)

  async function load() {
    try {
      const [own, release] = await Promise.all([api.job(id), api.release(id)])
      const first = !view.value
      job.value = own
      view.value = release
      if (first) at.value = release.next ?? end.value
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error.message
      if (error.passing) window.setTimeout(() => void load(), 2000)
    }
  }

  const outbox = useOutbox(
    `release.${id}`,
    (entry: RecordRelease) => api.recordRelease(id, entry),
    async (answer) => {
      if (answer) view.value = answer
      else await load()
      refused.value = ''
    },
  )
  /** What goes into the job itself: that something is back on. */
  const recorder = useRecorder(id, () => undefined, load)
  const putBack = (what: SetUpEntry) =>
    recorder.record(putBackRecord(job.value, what, person.value, {}))
  const cablesOff = () => recorder.record(cablesOffRecord(job.value, person.value))
  /** Nothing is tried on a machine that is not whole. */
  const whole = computed(() => !job.value?.still_off.length && !job.value?.jumper_on)

  let timer: number | undefined
  onMounted(async () => {
    await load()
    await Promise.all([outbox.resume(), recorder.resume()])
    timer = window.setInterval(() => {
      if (!outbox.busy.value && !document.hidden) void load()
    }, LOOK_AGAIN)
  })
  onBeforeUnmount(() => window.clearInterval(timer))

  /** Records something; whether it was taken. */
  async function enter(entry: ReleaseEntry): Promise<boolean> {
    refused.value = ''
    const outcome = await outbox.record({ by: person.value, entry })
    if (!outcome.kept) {
      refused.value = outcome.problem.sentence
      if (outcome.problem.status === 409) await load()
    }
    return outcome.kept
  }

  /** What was seen at this step; on to the next where it was right. */
  async function answer(saw: Saw, seconds?: number) {
    const own = step.value
    const release = view.value
    if (!own || !release || !open.value || !whole.value || outbox.busy.value) return
    const place = at.value
    const entry: ReleaseEntry = { kind: 'step', ...own.tried, saw, revision: release.revision }
    const kept = await enter(seconds === undefined ? entry : { ...entry, seconds })
    const result = view.value?.steps[place]?.result
    if (!kept || !result) return
    said.value = `Step ${place + 1}: ${SAWS[saw]}.`
    // Others may have moved on meanwhile.
    if (result.stands !== 'good' || at.value !== place) return
    at.value = view.value?.next ?? end.value
    followed.value = at.value === place + 1
  }

  /** Takes back what was recorded; whether it was. */
  async function undo(entry: string): Promise<boolean> {
    if (!open.value) return false
    refused.value = ''
    try {
      view.value = await api.voidRelease(id, entry, { by: person.value, reason: 'Undone' })
      return true
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      refused.value = error.message
      await load()
      return false
    }
  }

  async function takeBack() {
    const entry = step.value?.result.entry
    if (entry && (await undo(entry))) said.value = `Step ${at.value + 1} is undone.`
  }

  function go(to: number) {
    at.value = Math.min(Math.max(to, 0), end.value)
    followed.value = false
    refused.value = ''
  }

  return {
    job,
    view,
    at,
    followed,
    end,
    step,
    open,
    trouble,
    refused,
    said,
    outbox,
    recorder,
    whole,
    putBack,
    cablesOff,
    person,
    load,
    enter,
    answer,
    undo,
    takeBack,
    go,
  }
}
