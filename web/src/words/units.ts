import CODES from './codes.json'
import type { ConclusionView, FaultMode, FaultSize, SuspectView, UnitView } from '../api/client'

export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** With a small first letter, but for an abbreviation. */
export function lower(text: string): string {
  // Names that begin with an abbreviation keep it: PTO switch.
  return /^[A-Z]{2}/.test(text) ? text : text.charAt(0).toLowerCase() + text.slice(1)
}

/** What a unit is called on its own: "pedal switch", "linkage of the pedal switch". */
export function unitName(unit: UnitView): string {
  switch (unit.kind) {
    case 'linkage':
      return `linkage of the ${lower(unit.name)}`
    case 'nothing':
      return 'nothing wrong right now'
    default:
      return lower(unit.name)
  }
}

/** What is said of a part that fails so. */
export const MODES: { [mode in FaultMode]: string } = CODES.fault_modes

/** "Pedal switch, start contacts open"; "Linkage does not reach the pedal switch". */
export function failing(
  unit: UnitView,
  mode: FaultMode | null | undefined,
  element: string | null | undefined,
): string {
  if (unit.kind === 'nothing') return unit.name
  if (unit.kind === 'linkage') {
    const verb = mode === 'linkage-holds' ? 'does not let go of' : 'does not reach'
    return `Linkage ${verb} the ${lower(unit.name)}`
  }
  const name = capital(unit.name)
  if (!mode) return name
  if (unit.kind === 'wire') return `${name}: ${MODES[mode]}`
  return element ? `${name}, ${element} ${MODES[mode]}` : `${name} ${MODES[mode]}`
}

/** "28 to 34 milliohms", "about 10.9 volts at rest". */
export function sizeWords(size: FaultSize): string {
  const small = size.high < 1
  const [by, of] = {
    ohms: small ? [1000, 'milliohms'] : [1, 'ohms'],
    'inner-ohms': small ? [1000, 'milliohms inside'] : [1, 'ohms inside'],
    volts: [1, 'volts at rest'],
    share: [100, '% of the turns shorted'],
  }[size.kind] as [number, string]
  const figure = (value: number) => String(Number((value * by).toPrecision(2)))
  const rounded = size.kind === 'volts' ? (v: number) => v.toFixed(1) : figure
  const [low, high] = [rounded(size.low), rounded(size.high)]
  const range = low === high ? `about ${low}` : `${low} to ${high}`
  return of.startsWith('%') ? `${range}${of}` : `${range} ${of}`
}

/** A row of the suspects list. */
export function suspectTitle(row: SuspectView | ConclusionView): string {
  const [first, ...others] = row.units
  if (!first) return ''
  if (others.length === 0) return failing(first, row.mode, row.element)
  return capital(list(row.units.map(unitName), 'or'))
}

/** "a, b or c" */
export function list(names: string[], joint: 'and' | 'or'): string {
  if (names.length < 2) return names.join('')
  return `${names.slice(0, -1).join(', ')} ${joint} ${names[names.length - 1]}`
}
