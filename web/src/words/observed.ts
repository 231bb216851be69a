import type { EvidenceView, JobView } from '../api/client'
import { ohms, volts } from './numbers'
import { heardWords } from './tests'
import { capital } from './units'

type Reading = Extract<EvidenceView['entry']['observation'], { kind: 'reading' }>['reading']

function shown(reading: Reading): string {
  switch (reading.kind) {
    case 'volts':
      return `${volts(reading.value)} V`
    case 'ohms':
      return reading.value == null ? 'OL' : `${ohms(reading.value)} ohm`
    case 'buzz':
      return reading.value ? 'buzzes' : 'no buzz'
    default:
      return `lamp ${reading.value}`
  }
}

/** What an entry of the log saw: "Brake switch, out: 0.02 V". */
export function observed(job: JobView, e: EvidenceView): string {
  const seen = e.entry.observation
  if (seen.kind === 'heard') return `${capital(heardWords(seen.heard))}.`
  const point = (terminal: string) =>
    job.test_points.find((p) => p.terminal === terminal)?.name ?? terminal
  const { reading } = seen
  const alone = reading.kind === 'volts' || reading.kind === 'lamp'
  return `${point(seen.red)}${alone ? '' : ` to ${point(seen.black)}`}: ${shown(reading)}`
}
