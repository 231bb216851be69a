import type { Ref } from 'vue'
import type { Condition, Engine, Observed, TestView } from '../../api/client'
import type { useRecorder } from './useRecorder'

/** Records what was noticed as the machine stands, or in a test of the plan. */
export function useNoticed(
  recorder: ReturnType<typeof useRecorder>,
  person: Ref<string>,
  condition: Ref<Condition>,
  engine: Ref<Engine>,
) {
  return async (observed: Observed, test?: TestView) => {
    await recorder.record({
      by: person.value,
      condition: test?.condition ?? condition.value,
      engine: test?.engine ?? (observed.kind === 'heard' ? 'stopped' : engine.value),
      set_up: [],
      observed,
      repeats: 1,
    })
  }
}
