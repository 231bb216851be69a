import { describe, expect, it } from 'vitest'
import { ref } from 'vue'
import type { LiveView, TraceStepView } from '../src/api/client'
import { beeps, useLifted } from '../src/screens/trace/useLifted'

const step = () => ({}) as TraceStepView
const shows = (shown: string) => ({ state: 'reading', shown }) as LiveView

describe('a meter while wires are traced', () => {
  it('is believed for the next pins only after the probes were off the last ones', () => {
    const at = ref<TraceStepView | undefined>(step())
    const live = ref<LiveView>()
    const lifted = useLifted(at, live)
    live.value = shows('0.2 ohm')
    expect(lifted.value).toBe(false)
    live.value = shows('OL')
    expect(lifted.value).toBe(true)
    // The next card: the probes are still where they were.
    at.value = step()
    live.value = shows('0.2 ohm')
    expect(lifted.value).toBe(false)
    live.value = { state: 'silent', shown: '' } as unknown as LiveView
    expect(lifted.value).toBe(false)
  })

  it('beeps under 30 ohms', () => {
    expect(['beep', '0.2 ohm', '29.9'].map(beeps)).toEqual([true, true, true])
    expect(['OL', 'no beep', '31', ''].map(beeps)).toEqual([false, false, false, false])
  })
})
