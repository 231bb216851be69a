import CODES from './codes.json'
import type { ConclusionView, FaultMode, SuspectView, UnitView } from '../api/client'

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
  if (unit.kind === 'nothing')
    return 'Nothing wrong right now: off and on, or a control was not held'
  if (unit.kind === 'linkage') {
    const verb = mode === 'linkage-holds' ? 'does not let go of' : 'does not reach'
    return `Linkage ${verb} the ${lower(unit.name)}`
  }
  const name = capital(unit.name)
  if (!mode) return name
  return element ? `${name}, ${element} ${MODES[mode]}` : `${name} ${MODES[mode]}`
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
