import { v7 as uuid } from 'uuid'
import { ref, shallowRef, type Ref } from 'vue'
import {
  ApiError,
  api,
  type BenchView,
  type RecordAtBench,
  type SeenAtBench,
  type Subject,
} from '../../api/client'
import { useOutbox } from '../../api/useOutbox'

/** What can be said anew of a switch. */
export interface Said {
  name?: string
  subject?: Subject
  new_part?: boolean
  plug?: { [terminal: string]: string }
  machine?: { machine: string; part: string }
}

/** A switch on the bench, and everything that is done to it. */
export function useSwitch(id: string, person: Ref<string>) {
  const view = shallowRef<BenchView>()
  const trouble = ref('')
  /** What was refused, until the next is taken. */
  const refused = ref('')
  /** For those who listen. */
  const said = ref('')

  async function load() {
    try {
      view.value = await api.benchSwitch(id)
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error.message
      if (error.passing) window.setTimeout(() => void load(), 2000)
    }
  }

  const outbox = useOutbox(
    `bench.${id}`,
    (entry: RecordAtBench) => api.recordAtBench(id, entry),
    async (answer) => {
      if (answer) view.value = answer
      else await load()
      refused.value = ''
    },
  )

  /** Records something; whether it was taken. */
  async function record(seen: SeenAtBench): Promise<boolean> {
    // What is asked next follows from the last answer: until it is in, another would be of the same
    // pair. A stroke goes on by itself.
    if (outbox.busy.value && seen.kind !== 'stroke') {
      refused.value = 'The last answer is still under way. Wait for what is asked next.'
      return false
    }
    refused.value = ''
    const outcome = await outbox.record({ by: person.value, seen })
    if (!outcome.kept) refused.value = outcome.problem.sentence
    return outcome.kept
  }

  /** Does something to the switch itself; what stands in the way is said. */
  async function act(work: () => Promise<BenchView>): Promise<boolean> {
    refused.value = ''
    try {
      view.value = await work()
      return true
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      refused.value = error.message
      // Somebody else changed it: both are shown, what was typed stays.
      if (error.status === 409) await load()
      return false
    }
  }

  function change(to: Said) {
    const now = view.value
    if (!now) return Promise.resolve(false)
    const { version, name, subject, new_part } = now
    const plug = now.plug
    return act(() => api.changeSwitch(id, { version, name, subject, new_part, plug, ...to }))
  }

  /** Takes the last entry back that stands. */
  async function takeBack() {
    const last = view.value?.log.filter((e) => !e.voided).at(-1)
    if (!last) return
    const reason = 'Undone'
    if (await act(() => api.voidAtBench(id, last.id, { by: person.value, reason }))) {
      said.value = 'The last entry is undone.'
    }
  }

  return {
    view,
    trouble,
    refused,
    said,
    waiting: outbox.waiting,
    outbox,
    load,
    resume: outbox.resume,
    record,
    change,
    /** What came back with something else that was asked. */
    show: (answer: BenchView) => {
      view.value = answer
    },
    takeBack,
    takeOut: (entry: string, reason: string) =>
      act(() => api.voidAtBench(id, entry, { by: person.value, reason })),
    setStatus: (status: 'open' | 'closed') =>
      act(() => api.setSwitchStatus(id, { version: view.value?.version ?? 0, status })),
    attach: (job: string, note: string) =>
      act(() => api.attachSwitch(id, { id: uuid(), by: person.value, job, note })),
  }
}
