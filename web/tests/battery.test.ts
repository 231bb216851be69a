import { expect, describe, test } from 'vitest'
import { between, celsius, starterDoes, time, typedNumber, warmth } from '../src/words/battery'

describe('figures of a battery as they are typed and said', () => {
  test('a number is taken with its comma or its unit, and nothing else is', () => {
    expect(typedNumber('12,4')).toBe(12.4)
    expect(typedNumber(' 9.6 V')).toBe(9.6)
    expect(typedNumber('68°')).toBe(68)
    expect(typedNumber('-5')).toBe(-5)
    for (const odd of ['', '  ', 'V', 'about 12', '12.4.1']) expect(typedNumber(odd)).toBeUndefined()
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
