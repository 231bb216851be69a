import { ref, watch, type Ref } from 'vue'
import type { LiveView, TraceStepView } from '../../api/client'

/** Whether what a meter shows, or what is typed, is a beep: `beep`, or less than 30 ohms. */
export function beeps(shown: string): boolean {
  return shown === 'beep' || Number.parseFloat(shown) < 30
}

/**
 * Whether the probes were lifted since the step came up. Until then a beep may still be of the last two pins, also
 * where the meter went to another range meanwhile.
 */
export function useLifted(step: Ref<TraceStepView | undefined>, live: Ref<LiveView | undefined>) {
  const lifted = ref(false)
  watch(step, () => (lifted.value = false), { flush: 'sync' })
  watch(
    live,
    (now) => {
      if (now?.state === 'reading' && !beeps(now.shown)) lifted.value = true
    },
    { flush: 'sync' },
  )
  return lifted
}
