import type {
  Control,
  ExcludedView,
  ExplanationView,
  JobView,
  Strategy,
  StrainView,
  Work,
} from '../api/client'
import { noticed } from './noticed'
import { volts } from './numbers'
import { DIAL, heardWords, moves } from './tests'
import { lower } from './units'

export const STRATEGIES: { id: Strategy; name: string; does: string }[] = [
  { id: 'best-split', name: 'Fastest', does: 'what tells you most per minute' },
  { id: 'battery-forward', name: 'Battery forward', does: 'volts, point by point, to the load' },
  { id: 'load-back', name: 'Load back', does: 'volts, point by point, from the load' },
  { id: 'half-split', name: 'Halves', does: 'volts, always in the middle of what is left' },
  { id: 'quick-and-likely', name: 'Quick and likely', does: 'the quick looks first' },
  { id: 'kill-sweep', name: 'Kill-wire sweep', does: 'the whole kill wire from one point' },
  {
    id: 'complaint-logic',
    name: 'No meter first',
    does: 'what else works, before you get the meter',
  },
]

export const WORKS: { id: Work; name: string }[] = [
  { id: 'replaced', name: 'Was replaced' },
  { id: 'jumped', name: 'Was jumped' },
  { id: 'cut', name: 'Was cut or spliced' },
  { id: 'fuse-changed', name: 'Fuse was changed' },
]

/** Why a switch cannot be it, by one entry: "it is not read there", "were it bad: ...". */
export function excludedWords({ would_show: seen }: ExcludedView['reasons'][number]): string {
  if (!seen) return 'this machine does not look at it then'
  if (seen.kind === 'heard')
    return `if it was bad, the starter would do this: ${heardWords(seen.heard)}`
  if (seen.kind === 'reading') return ''
  return `if it was bad: ${noticed(seen)}`
}

/** What may have happened at an entry that fits nothing. */
export function explanationWords(
  controls: Control[],
  condition: { [control: string]: string },
  e: ExplanationView,
): string {
  switch (e.kind) {
    case 'wrong-point':
      return `Probes on other points: red on the ${lower(e.red.name)}, black on the ${lower(e.black.name)}.`
    case 'wrong-setting':
      return `Meter on another range. ${DIAL[e.instrument]}`
    case 'other-condition':
      return `Controls not like that: ${moves(controls, condition, e.condition).join(', ').toLowerCase()}.`
  }
}

/** "; the 40 A main fuse lets that through, a 20 A one would blow" */
function pastWords(past: Extract<StrainView, { kind: 'overloads' }>['past']): string {
  if (!past) return ''
  const right = past.right_one == null ? '' : `, a ${past.right_one} A one would blow`
  return `; the ${past.rating} A ${lower(past.fuse)} lets that through${right}`
}

/** What is overtaxed: "PTO switch, clutch contacts carries 15.6 A; it is rated 10 A". */
export function strainWords(s: StrainView): string {
  switch (s.kind) {
    case 'overloads':
      return `${s.amps.toFixed(0)} A through ${lower(s.contact)}; contacts like that are rated ${s.rated.toFixed(0)} A${pastWords(s.past)}`
    case 'blows-fuse':
      return `${s.fuse} blows`
    case 'does-not-charge':
      return 'the battery is not charged while the engine runs'
    case 'overcharges':
      return `the battery is held at ${volts(s.volts)} V and boils`
  }
}

/** The name of a unit by its id, as it stands in the log. */
export function namedUnit(job: JobView, id: string): string {
  const [part = '', linkage] = id.split(':')
  const name = job.part_names[part] ?? part
  return linkage ? `linkage of the ${lower(name)}` : name
}
