import type { ChargingView } from '../api/client'
import CODES from './codes.json'
import { amps, percent, volts } from './numbers'
import { SAY } from './say'

export type Charging = NonNullable<ChargingView['system']>
export type ChargeSite = Charging['sites'][number]
export type ChargeKind = ChargeSite['kind']
export type ChargeStanding = Charging['standing']
type Does = ChargeStanding['does']
type Note = ChargeStanding['notes'][number]
type Cause = ChargeStanding['causes'][number]

export const CHARGE_CAUTIONS: { [kind in ChargeKind]: string } = CODES.charge_cautions
export const CHARGE_DOES: { [does in Does]: string } = CODES.charge_does
export const CHARGE_KINDS: { [kind in ChargeKind]: string } = CODES.charge_kinds
export const CHARGE_NOTES: { [note in Note]: string } = CODES.charge_notes
export const CHARGE_PLACES: { [place in Cause['place']]: string } = CODES.charge_places
export const CHARGE_STATES: { [state in Cause['state']]: string } = CODES.charge_states

/** What of it is wrong. */
export const WRONG: Does[] = ['no-charge', 'low', 'over']

/** "Regulator: puts out nothing · 96%"; nothing where that is not said. */
export function saysWords({ says }: ChargeStanding): string {
  return says ? `${CHARGE_STATES[says.state]} · ${percent(says.chance)}` : ''
}

/** "13.80 to 14.70 V"; what a good one reads there. */
export function goodWords(system: Charging, kind: ChargeKind): string {
  if (kind === 'winding') return '0.1 to 2 ohm'
  if (kind === 'frame') return 'OL'
  if (kind === 'full' && system.regulated) return `${volts(system.low)} to ${volts(system.high)} V`
  const own = system.standing.expected.find((e) => e.kind === kind)
  if (!own) return ''
  if (kind === 'amps') return `${amps(own.low)} to ${amps(own.high)} A`
  if (kind === 'stator') return `${own.low.toFixed(0)} to ${own.high.toFixed(0)} V AC`
  if (kind === 'ripple') return `under ${volts(own.high)} V AC`
  if (kind === 'feed' || kind === 'ground') return `under ${volts(own.high)} V`
  return `${volts(own.low)} to ${volts(own.high)} V`
}

/** What is typed there, and its unit. */
export function typedWords(kind: ChargeKind): { label: string; unit: string; open: boolean } {
  if (kind === 'winding' || kind === 'frame')
    return { label: SAY.charging.ohms, unit: 'Ω', open: true }
  if (kind === 'amps') return { label: SAY.charging.amps, unit: 'A', open: false }
  if (kind === 'stator' || kind === 'ripple')
    return { label: SAY.charging.acVolts, unit: 'V AC', open: false }
  return { label: SAY.charging.volts, unit: 'V', open: false }
}
