import type { BatteryTest, Chemistry } from '../../api/client'
import { celsius, typedNumber, type Degrees } from '../../words/battery'
import type { Taken } from './taken'

/** What stands in the form. */
export interface Typed {
  /** By field. */
  text: { [field: string]: string | undefined }
  cells: string[]
  hours: number
  surfaceOff: boolean
  chemistry: Chemistry
  degrees: Degrees
  /** Drawn by the machine's own loads. */
  ownAmps: number
}

/** What goes out of what was typed; else the field that is no number. */
export function readingOf(
  taken: Exclude<Taken, 'cranking'>,
  typed: Typed,
): { test: BatteryTest } | { missing: string } {
  let missing = ''
  const number = (field: string) => typedNumber(typed.text[field] ?? '')
  const need = (field: string) => {
    const value = number(field)
    if (value === undefined) missing ||= field
    return value ?? 0
  }
  const warm = number('warm')
  const at = warm === undefined ? {} : { celsius: celsius(warm, typed.degrees) }
  const read = (): BatteryTest => {
    switch (taken) {
      case 'label': {
        const [cold_amps, amp_hours] = [number('cold'), number('ah')]
        if (cold_amps === undefined && amp_hours === undefined) missing = 'cold'
        return { kind: 'label', cold_amps, amp_hours, chemistry: typed.chemistry }
      }
      case 'rest': {
        const { hours, surfaceOff: surface_off } = typed
        return { kind: 'rest', volts: need('volts'), hours, surface_off, ...at }
      }
      case 'own-loads': {
        const [volts, seconds] = [need('volts'), need('seconds')]
        return { kind: 'loaded', volts, amps: typed.ownAmps, estimated: true, seconds, ...at }
      }
      case 'tester': {
        const [volts, amps, seconds] = [need('volts'), need('amps'), need('seconds')]
        return { kind: 'loaded', volts, amps, estimated: false, seconds, ...at }
      }
      case 'recovery':
        return { kind: 'recovered', volts: need('volts'), seconds: need('seconds') }
      case 'charged':
        return { kind: 'charged', amps: need('amps'), hours: need('hours') }
      case 'drain':
        return { kind: 'drain', milliamps: need('milliamps') }
      case 'acid': {
        const all = typed.cells.map((cell) => typedNumber(cell))
        if (all.some((cell) => cell === undefined)) missing = 'cells'
        // "1250" is how it stands on most floats.
        const plain = all.map((cell = 0) => (cell > 100 ? cell / 1000 : cell))
        return { kind: 'hydrometer', cells: [...plain, 0, 0, 0].slice(0, 6) }
      }
    }
  }
  const test = read()
  return missing ? { missing } : { test }
}
