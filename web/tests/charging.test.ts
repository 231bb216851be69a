import { describe, expect, it } from 'vitest'
import { goodWords, saysWords, typedWords, type Charging } from '../src/words/charging'

const system = {
  regulated: true,
  low: 13.8,
  high: 14.7,
  over: 15,
  places: [],
  sites: [],
  readings: [],
  standing: {
    says: { state: 'regulator-dead', place: 'regulator', chance: 0.963 },
    expected: [
      { kind: 'full', low: 12.9, high: 14.4 },
      { kind: 'amps', low: 5.51, high: 18.2 },
      { kind: 'ripple', low: 0.02, high: 0.31 },
      { kind: 'feed', low: 0.06, high: 0.5 },
      { kind: 'stator', low: 22.07, high: 32.16 },
    ],
  },
} as unknown as Charging

describe('what a charging system should read, in words', () => {
  it('goes by the maker’s volts where it is regulated, by the machine’s own where not', () => {
    expect(goodWords(system, 'full')).toBe('13.80 to 14.70 V')
    expect(goodWords({ ...system, regulated: false }, 'full')).toBe('12.90 to 14.40 V')
  })

  it('says amps, ripple, drops and the stator each in its own unit', () => {
    expect(goodWords(system, 'amps')).toBe('5.5 to 18.2 A')
    expect(goodWords(system, 'ripple')).toBe('under 0.31 V AC')
    expect(goodWords(system, 'feed')).toBe('under 0.50 V')
    expect(goodWords(system, 'stator')).toBe('22 to 32 V AC')
    expect(goodWords(system, 'frame')).toBe('OL')
    expect(goodWords(system, 'ground')).toBe('')
  })

  it('says what it is with its chance, and nothing before that', () => {
    expect(saysWords(system.standing)).toBe('Regulator: puts out nothing · 96%')
    expect(saysWords({ ...system.standing, says: null })).toBe('')
  })

  it('takes open leads for ohms only', () => {
    expect(typedWords('frame').open).toBe(true)
    expect(typedWords('full').open).toBe(false)
    expect(typedWords('stator').unit).toBe('V AC')
  })
})
