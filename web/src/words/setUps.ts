import type { JobView, SetUpEntry } from '../api/client'
import { lower } from './units'

/** What the parts, wires and points of a machine are called. */
export type Names = Pick<JobView, 'part_names' | 'wires' | 'test_points'>

/** What is off, on or held, by the machine's own names: "seat switch plug off". */
export function standsWords(names: Names, s: SetUpEntry): string {
  const part = (id: string) => lower(names.part_names[id] ?? id)
  const point = (terminal: string) =>
    lower(names.test_points.find((p) => p.terminal === terminal)?.name ?? terminal)
  switch (s.kind) {
    case 'unplugged':
      return `${part(s.connector)} off`
    case 'lamp-in-place':
      return `${part(s.connector)} off, lamp in place`
    case 'battery-off':
      return 'battery clamp off'
    case 'wire-off':
      return `${lower(names.wires.find((w) => w.id === s.wire)?.name ?? s.wire)} off`
    case 'jumper':
      return `jumper wire on, ${point(s.from)} to ${point(s.to)}`
    case 'shaken':
      return 'harness shaken'
    case 'freed-by-hand':
      return 'plunger let out'
    case 'pressed-by-hand':
      return 'pressed by hand'
  }
}

/** The same once it is put back: "seat switch plug back on". */
export function backAgainWords(names: Names, s: SetUpEntry): string {
  const stands = standsWords(names, s)
  return s.kind === 'jumper'
    ? stands.replace('jumper wire on', 'jumper wire off again')
    : stands.replace(/ off(, lamp in place)?$/, ' back on')
}

const AMPS = new Intl.NumberFormat('en-US', { maximumSignificantDigits: 2 })

/** What a jumper would carry, on a good machine and at most. */
export function ampsWords(good: number, most: number): string {
  const amps = (a: number) => `${a < 0.05 ? 'next to nothing' : `about ${AMPS.format(a)} A`}`
  const carries = `Carries ${amps(good)} on a good machine.`
  return most > 1.5 * good + 0.5
    ? `${carries} With a short, up to ${AMPS.format(most)} A.`
    : carries
}
