import type { DiagnosisView, LostView } from '../api/client'
import { volts } from './numbers'
import { list, lower, unitName } from './units'

/** Less of the supply than this lost, and something lets current through badly: it is not open. */
const OPEN = 0.7

/** The break in plain words; how much is lost, and where, stands at the staircase. */
export function breakWords(lost: LostView, supply: number): string {
  const open = lost.volts > OPEN * supply
  const does = open ? 'is open' : `loses ${volts(lost.volts)} V`
  const where = `between ${lost.before.name} and ${lost.after.name}`
  const [gate] = lost.gates
  if (lost.gates.length === 1 && gate?.gate) {
    const held = `${gate.gate.control_name.toLowerCase()} ${gate.gate.position_name}`
    const many = gate.name.endsWith('contacts')
    const plural = open ? 'are open' : `lose ${volts(lost.volts)} V`
    return `${possessive(gate.name)} ${many ? plural : does} with the ${held}.`
  }
  if (lost.gates.length > 1) return `One of the ${lost.gates.length} contacts ${where} ${does}.`
  return `No switch ${where}: a wire, a plug or a joint ${does} there.`
}

/** "Pedal switch, start contacts" -> "The pedal switch's start contacts" */
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
  if (slipOf(diagnosis) > 0) others.push('a bad reading (probe slipped)')
  return others.length ? `These would read the same: ${list(others, 'or')}.` : ''
}
