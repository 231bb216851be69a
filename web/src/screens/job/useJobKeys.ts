import { nextTick, type Ref } from 'vue'
import type { Condition, Control, Instrument, TestView } from '../../api/client'
import { stepControl } from '../../input/stepControl'
import { useShortcuts } from '../../input/useShortcuts'
import { listens } from './test/useTarget'

/** What the keys of a job reach. */
interface Reach {
  open: Ref<boolean>
  instrument: Ref<Instrument | undefined>
  /** What is tried now. */
  tried: Ref<TestView | undefined>
  controls: Ref<Control[]>
  condition: Ref<Condition>
  step: Ref<{
    measures: boolean
    begin(text: string): void
    record(answer: string, by: Instrument): void
  } | null>
  sheet(): void
  letGo(): void
  move(control: string, position: string): Promise<void>
  stepTo(by: 1 | -1): void
  heardNothing(test: TestView): Promise<void>
  bay(): void
  voidLast(): void
}

/** The keys of the job screen; each has a visible twin. */
export function useJobKeys(reach: Reach) {
  useShortcuts((key, shift) => {
    if (key === '?') {
      reach.sheet()
      return true
    }
    if (!reach.open.value) return false
    if (key === 'Escape') {
      reach.letGo()
      return true
    }
    const step = reach.step.value
    if (/^[0-9.]$/.test(key) && step?.measures) {
      step.begin(key)
      return true
    }
    const by = reach.instrument.value
    const ohms = by === 'ohmmeter' || by === 'buzzer'
    switch (key) {
      case '[':
      case ']':
        reach.stepTo(key === ']' ? 1 : -1)
        return true
      case 'o':
        if (ohms || by === 'diode-range') step?.record('OL', ohms ? 'ohmmeter' : by)
        return ohms || by === 'diode-range'
      case 'z':
        if (ohms) step?.record('buzz', 'buzzer')
        return ohms
      case 'n':
        if (reach.tried.value && listens(reach.tried.value)) {
          void reach.heardNothing(reach.tried.value)
        } else if (ohms) step?.record('silent', 'buzzer')
        return true
      case 'v':
        reach.bay()
        return true
      case 'u':
        reach.voidLast()
        void nextTick(() => document.querySelector<HTMLElement>('.reasons button')?.focus())
        return true
      default: {
        const next = stepControl(reach.controls.value, reach.condition.value, key, shift)
        if (next) void reach.move(next.control, next.position)
        return !!next
      }
    }
  })
}
