import type { SetUpView } from '../api/client'
import { capital, lower } from './units'

/** What is off or on, short: "brake switch plug off". */
export function offWords(off: SetUpView): string {
  switch (off.entry.kind) {
    case 'battery-off':
      return 'battery clamp off'
    case 'lamp-in-place':
      return `${lower(off.name)} off, lamp in place`
    case 'jumper':
      return lower(off.name).replace('jumper wire', 'jumper wire on')
    default:
      return `${lower(off.name)} off`
  }
}

/** The button that says it is back: "Brake switch plug is back on". */
export function backWords(off: SetUpView): string {
  switch (off.entry.kind) {
    case 'battery-off':
      return 'Battery clamp is back on'
    case 'lamp-in-place':
      return `Lamp is off, ${lower(off.name)} is back on`
    case 'jumper':
      return `${capital(off.name).replace(', ', ' (')}) is off`
    default:
      return `${capital(off.name)} is back on`
  }
}
