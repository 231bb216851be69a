import { computed, ref, watch, type Ref } from 'vue'
import { ApiError, api, type OwnTest, type OwnTestView } from '../../../api/client'
import type { Target } from './useTarget'

/**
 * What a measurement that the plan did not ask for would tell, and what speaks against it: a point
 * or an instrument of the mechanic's own.
 */
export function useWeighed(
  job: string,
  at: Ref<Target | undefined>,
  swapped: Ref<boolean>,
  entries: () => number,
) {
  const weighed = ref<OwnTestView>()
  /** Why it cannot be weighed. */
  const refused = ref<string>()
  const asked = computed<OwnTest | undefined>(() => {
    const own = at.value
    if (!own || (own.test && !swapped.value)) return undefined
    return {
      condition: own.condition,
      engine: own.engine,
      set_up: own.setUp.map((s) => s.entry),
      instrument: own.instrument,
      red: own.red.terminal,
      black: own.black.terminal,
    }
  })
  let latest = 0

  async function weigh() {
    const mine = ++latest
    weighed.value = refused.value = undefined
    if (!asked.value) return
    try {
      const found = await api.weigh(job, asked.value)
      if (mine === latest) weighed.value = found
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      // A server that is away is said elsewhere; the measurement counts all the same.
      if (mine === latest && !error.passing) refused.value = error.message
    }
  }
  watch([() => JSON.stringify(asked.value), entries], () => void weigh(), { immediate: true })

  return { weighed, refused }
}
