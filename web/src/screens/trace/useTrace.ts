import { ref, shallowRef, watch, type Ref } from 'vue'
import {
  ApiError,
  api,
  type FoundOfHarness,
  type HarnessTraceView,
  type RecordTrace,
} from '../../api/client'
import { useOutbox } from '../../api/useOutbox'
import { entryWords } from '../../words/trace'

/** How often it is looked what others have found, in milliseconds. */
const LOOK_AGAIN = 15_000

/** A harness that is being traced, by everybody at it together. */
export function useTrace(name: string, person: Ref<string>) {
  const view = shallowRef<HarnessTraceView>()
  const trouble = ref('')
  /** What was refused, until the next is taken. */
  const refused = ref('')
  /** For those who listen. */
  const said = ref('')
  /** The circuit that is wanted; the whole harness without one. */
  const circuit = ref<string>()
  const kept = ref<number>()

  async function load() {
    const wanted = circuit.value
    try {
      const answer = await api.harnessTrace(name, wanted)
      // Another circuit was asked for meanwhile.
      if (circuit.value === wanted) view.value = answer
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error.message
      if (error.passing) window.setTimeout(() => void load(), 2000)
    }
  }
  watch(circuit, load)

  const outbox = useOutbox(
    `trace.${name}`,
    (entry: RecordTrace) => api.recordTrace(name, entry, circuit.value),
    async (answer) => {
      if (answer) view.value = answer
      else await load()
      refused.value = ''
      const last = answer?.entries[0]
      if (last) said.value = `Recorded. ${entryWords(last)}`
    },
  )

  async function record(found: FoundOfHarness): Promise<boolean> {
    // What is asked next follows from the last answer: until it is in, another would be of the same pins.
    if (outbox.busy.value) {
      refused.value = 'The last answer is still under way. Wait for the next one.'
      return false
    }
    refused.value = ''
    kept.value = undefined
    const outcome = await outbox.record({ by: person.value, found })
    if (!outcome.kept) refused.value = outcome.problem.sentence
    return outcome.kept
  }

  async function act<T>(work: () => Promise<T>): Promise<T | undefined> {
    refused.value = ''
    try {
      return await work()
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      refused.value = error.message
      return undefined
    }
  }

  /** Takes the last entry back that stands. */
  async function undo() {
    const last = view.value?.entries.find((e) => !e.voided)
    if (!last) return
    const why = { by: person.value, reason: 'Undone' }
    const answer = await act(() => api.voidTrace(name, last.id, why, circuit.value))
    if (answer) {
      view.value = answer
      said.value = `Undone. ${entryWords(last)}`
    }
  }

  /** Puts what was found into the machine's drawing. */
  async function keep() {
    const answer = await act(() => api.keepTrace(name, person.value))
    if (answer) {
      await load()
      kept.value = answer.revision
    }
  }

  const again = window.setInterval(() => {
    if (!outbox.busy.value && document.visibilityState === 'visible') void load()
  }, LOOK_AGAIN)
  const stop = () => window.clearInterval(again)

  return { view, trouble, refused, said, circuit, kept, outbox, load, record, undo, keep, stop }
}
