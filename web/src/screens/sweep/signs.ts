import type { Instrument, Sign } from '../../api/client'

/** What the instrument says at a stand, in words. */
export const SAYS: { [sign in Sign]: string } = {
  buzzes: 'Beeps',
  drop: 'A diode’s drop',
  silent: 'No beep',
}

interface SignKey {
  sign: Sign
  key: string
}

/** What can be answered, with its key. */
export function answersOf(instrument: Instrument): SignKey[] {
  const drop: SignKey[] = instrument === 'diode-range' ? [{ sign: 'drop', key: 'D' }] : []
  return [{ sign: 'buzzes', key: 'Z' }, ...drop, { sign: 'silent', key: 'N' }]
}

/** The reading that a sign is typed as. */
export function typedSign(instrument: Instrument, sign: Sign): [Instrument, string] {
  if (instrument !== 'diode-range') return ['buzzer', sign === 'silent' ? 'silent' : 'buzz']
  const volts = { buzzes: '0.00', drop: '0.60', silent: 'OL' } as const
  return ['diode-range', volts[sign]]
}
