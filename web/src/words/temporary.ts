import type { SetUpView, StillOffView } from '../api/client'
import { clock, day } from './numbers'
import { SAY } from './say'
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

/** Who left it so and since when: "since 14:05, Ilse"; of another day with the day. */
export function leftWords({ by, since }: StillOffView, now = new Date()): string {
  if (!since) return by
  const today = new Date(since).toDateString() === now.toDateString()
  const at = today ? clock(since) : `${day(since)} ${clock(since)}`
  return `${SAY.common.leftSo} ${at}, ${by}`
}
