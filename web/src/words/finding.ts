import type { DiagnosisView, ElementView, PieceView, TraceView, TrackPoint } from '../api/client'
import { list, lower, unitName } from './units'

/** Where the stair falls: the last sound point and the first that is not. */
export interface Break {
  before: TrackPoint
  after: TrackPoint
  lost: number
  /** Elements between the two. */
  between: ElementView[]
}

/** The elements of a track in a row, branches one after the other. */
export function flat(pieces: PieceView[]): ElementView[] {
  return pieces.flatMap((p) => (p.kind === 'fork' ? p.branches.flatMap(flat) : [p]))
}

/** A drop that is a break rather than a sag, in volts. */
const BREAK_VOLTS = 1

/** Finds the break on a trace, if two found points enclose one. */
export function findBreak(trace: TraceView): Break | undefined {
  const found = trace.points.filter((p) => p.found)
  const elements = flat(trace.track)
  for (let i = 1; i < found.length; i++) {
    const before = found[i - 1]!
    const after = found[i]!
    const lost = before.found!.volts - after.found!.volts
    const load = elements.findIndex((e) => e.role === 'load')
    const start = elements.findIndex((e) => e.from === before.node)
    const end = elements.findLastIndex((e) => e.to === after.node)
    const overLoad = load >= start && load <= end
    if (lost > BREAK_VOLTS && !overLoad && !after.found!.sound) {
      return { before, after, lost, between: elements.slice(Math.max(start, 0), end + 1) }
    }
  }
  return undefined
}

/** The break in plain words; how much is lost, and where, stands at the staircase. */
export function breakWords(at: Break): string {
  const gates = at.between.filter((e) => e.role === 'gate')
  const where = `between ${at.before.point.name} and ${at.after.point.name}`
  const gate = gates[0]
  if (gates.length === 1 && gate?.gate) {
    const held = `${gate.gate.control_name.toLowerCase()} ${gate.gate.position_name}`
    return `${possessive(gate.name)} is not made with the ${held}.`
  }
  if (gates.length > 1) return `One of the ${gates.length} gates ${where} is not made.`
  return `No gate stands ${where}: a wire, a plug or a joint is open there.`
}

/** "Pedal switch, start pole" -> "The pedal switch's start pole" */
function possessive(name: string): string {
  const [unit = '', own] = name.split(', ')
  const plain = lower(unit)
  return own ? `The ${plain}’s ${own}` : `The ${plain}`
}

/** The chance that the last entry was a slip, where it counts. */
export function slipOf(diagnosis: DiagnosisView): number {
  const slip = diagnosis.judgements.at(-1)?.slip ?? 0
  return slip > 0.01 ? slip : 0
}

/** What else would read the same: the other suspects that hold something, and a slip. */
export function lookAlikes(diagnosis: DiagnosisView): string {
  const others = diagnosis.suspects
    .slice(1, 4)
    .filter((s) => s.probability > 0.01)
    .map((s) => `the ${list(s.units.map(unitName), 'or')}`)
  if (slipOf(diagnosis) > 0) others.push('a probe not touching')
  return others.length ? `Could look the same: ${list(others, 'or')}.` : ''
}
