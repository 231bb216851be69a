import type { EvidenceView, JobView } from '../api/client'
import { amps, ohms, volts } from './numbers'
import { namedCloseUp } from './closeUps'
import { noticed } from './noticed'
import { backAgainWords, standsWords } from './setUps'
import { heardWords } from './tests'
import { namedUnit } from './doubts'
import { capital } from './units'

type Reading = Extract<EvidenceView['entry']['observation'], { kind: 'reading' }>['reading']

function shown(reading: Reading): string {
  switch (reading.kind) {
    case 'volts':
      return `${volts(reading.value)} V`
    case 'ohms':
      return reading.value == null ? 'OL' : `${ohms(reading.value)} ohm`
    case 'buzz':
      return reading.value ? 'beeps' : 'no beep'
    case 'lamp':
      return `lamp ${reading.value}`
    case 'lit':
      return reading.value ? 'LED lit' : 'LED dark'
    case 'ac-volts':
      return `${reading.value.toFixed(1)} V AC`
    case 'amps':
      return `${amps(reading.value)} A`
    case 'drop':
      return reading.value == null ? 'OL' : `${volts(reading.value)} V across the diode`
  }
}

type Seen = Exclude<
  EvidenceView['entry']['observation'],
  { kind: 'reading' | 'arranged' | 'put-back' }
>

/** The same with the parts' names in place of their ids. */
function named(job: JobView, seen: Seen): Seen {
  const name = (id: string) => job.part_names[id] ?? id
  switch (seen.kind) {
    case 'lamp':
      return { ...seen, lamp: name(seen.lamp) }
    case 'looked':
      return {
        ...seen,
        at: Object.fromEntries(
          Object.entries(seen.at).map(([key, id]) => [key, key === 'kind' ? id : name(id)]),
        ) as typeof seen.at,
      }
    case 'close-up':
      return { ...seen, what: namedCloseUp(seen.what, name) }
    case 'benched':
    case 'repaired':
    case 'worked-on':
      return { ...seen, unit: namedUnit(job, seen.unit) }
    default:
      return seen
  }
}

/** What an entry of the log saw: "Brake switch, out: 0.02 V". */
export function observed(job: JobView, e: EvidenceView): string {
  const seen = e.entry.observation
  if (seen.kind === 'heard') return `${capital(heardWords(seen.heard))}.`
  if (seen.kind === 'arranged') return `${capital(standsWords(job, seen.what))}.`
  if (seen.kind === 'put-back') return `${capital(backAgainWords(job, seen.what))}.`
  if (e.says) return `${e.says}.`
  if (seen.kind !== 'reading') return `${capital(noticed(named(job, seen)))}.`
  const point = (terminal: string) =>
    job.test_points.find((p) => p.terminal === terminal)?.name ?? terminal
  const { reading } = seen
  const volts = reading.kind === 'volts' || reading.kind === 'lamp'
  const alone = volts && (seen.black === job.black || job.black == null)
  return `${point(seen.red)}${alone ? '' : ` to ${point(seen.black)}`}: ${shown(reading)}`
}
