import { ref, type Ref } from 'vue'
import type { Instrument, Standing } from '../../api/client'
import type { Own, Target } from './test/useTarget'
import type { useRecorder } from './useRecorder'

/** Records readings at what is to be measured now. */
export function useReading(
  recorder: ReturnType<typeof useRecorder>,
  person: Ref<string>,
  target: Ref<Target | undefined>,
  chosen: Ref<string | undefined>,
  own: Ref<Own | undefined>,
  walkOn: () => void,
  /** Back to where it was typed. */
  retype: (typed: string) => void,
  /** The machine stands as it was measured. */
  stand: (at: Standing) => void,
) {
  const said = ref('')
  /** Why the last reading was refused. */
  const refused = ref<string>()

  async function recordReading(instrument: Instrument, typed: string) {
    const at = target.value
    if (!at) return
    const walking = chosen.value
    if (at.test) stand({ set: at.condition, engine: at.engine })
    refused.value = undefined
    const outcome = await recorder.record({
      by: person.value,
      condition: at.condition,
      engine: at.engine,
      set_up: at.setUp.map((s) => s.entry),
      observed: {
        kind: 'reading',
        instrument,
        red: at.red.terminal,
        black: at.black.terminal,
        typed,
      },
      repeats: 1,
    })
    if (!outcome.kept) {
      // Back to where it was typed, with what was typed, and why it was refused.
      chosen.value = walking
      refused.value = outcome.problem.field('typed') ?? outcome.problem.message
      retype(typed)
      return
    }
    own.value = undefined
    if (walking && chosen.value === walking) walkOn()
    said.value = `Recorded ${typed} at ${at.red.name}.`
  }

  return { said, refused, recordReading }
}
