import { readingOf, type Typed } from '../src/screens/battery/readingOf'
import { expect, describe, test } from 'vitest'
import { between, celsius, starterDoes, time, typedNumber, warmth } from '../src/words/battery'

describe('figures of a battery as they are typed and said', () => {
  test('a number is taken with its comma or its unit, and nothing else is', () => {
    expect(typedNumber('12,4')).toBe(12.4)
    expect(typedNumber(' 9.6 V')).toBe(9.6)
    expect(typedNumber('68°')).toBe(68)
    expect(typedNumber('-5')).toBe(-5)
    for (const odd of ['', '  ', 'V', 'about 12', '12.4.1'])
      expect(typedNumber(odd)).toBeUndefined()
  })

  test('warmth goes out in Celsius and comes back as it was typed', () => {
    expect(celsius(68, 'F')).toBeCloseTo(20)
    expect(celsius(20, 'C')).toBe(20)
    for (const typed of [-20, 0, 32, 46, 100]) {
      expect(warmth(celsius(typed, 'F'), 'F')).toBe(`${typed} °F`)
    }
  })

  test('what is not known is said as a range, what is known as one figure', () => {
    const whole = (v: number) => v.toFixed(0)
    expect(between({ low: 44.8, middle: 50, high: 65.2 }, '%', whole)).toBe('45 to 65%')
    expect(between({ low: 99.7, middle: 100, high: 100 }, '%', whole)).toBe('100%')
  })

  test('hours are said as people say them', () => {
    expect(time(0.001)).toBe('1 min')
    expect(time(0.5)).toBe('30 min')
    expect(time(4.4)).toBe('4.4 h')
    expect(time(100)).toBe('4 days')
  })

  test('the likeliest the starter does comes first, what hardly happens is left out', () => {
    const volts = { low: 7, middle: 8, high: 9 }
    const does = [
      { does: 'yes' as const, chance: 0.7 },
      { does: 'chatter' as const, chance: 0.28 },
      { does: 'no' as const, chance: 0.02 },
    ]
    expect(starterDoes({ volts, does })).toBe('cranks 70%, chatters 28%')
    expect(starterDoes({ volts, does: [{ does: 'slow', chance: 1 }] })).toBe('cranks slowly')
  })
})

describe('what goes out of what was typed', () => {
  const typed = (text: Typed['text'], more: Partial<Typed> = {}): Typed => ({
    text,
    cells: [],
    hours: 12,
    surfaceOff: false,
    chemistry: 'flooded',
    degrees: 'F',
    ownAmps: 8,
    ...more,
  })

  test('a reading goes out whole, in volts and Celsius', () => {
    expect(readingOf('rest', typed({ volts: '12,58', warm: '68' }))).toEqual({
      test: { kind: 'rest', volts: 12.58, hours: 12, surface_off: false, celsius: 20 },
    })
    expect(readingOf('own-loads', typed({ volts: '11.9', seconds: '15' }))).toEqual({
      test: { kind: 'loaded', volts: 11.9, amps: 8, estimated: true, seconds: 15 },
    })
  })

  test('what is missing is named by its field, and nothing goes out', () => {
    expect(readingOf('rest', typed({ volts: '' }))).toEqual({ missing: 'volts' })
    expect(readingOf('tester', typed({ volts: '9.6', amps: 'x', seconds: '15' }))).toEqual({
      missing: 'amps',
    })
    expect(readingOf('label', typed({}))).toEqual({ missing: 'cold' })
    expect(readingOf('acid', typed({}, { cells: ['1.25', ''] }))).toEqual({ missing: 'cells' })
  })

  test('acid is taken as it stands on the float', () => {
    const cells = ['1250', '1.255', '1,26', '1.25', '1.25', '1.25']
    expect(readingOf('acid', typed({}, { cells }))).toEqual({
      test: { kind: 'hydrometer', cells: [1.25, 1.255, 1.26, 1.25, 1.25, 1.25] },
    })
    const three = readingOf('acid', typed({}, { cells: cells.slice(0, 3) }))
    expect(three).toEqual({ test: { kind: 'hydrometer', cells: [1.25, 1.255, 1.26, 0, 0, 0] } })
  })
})
