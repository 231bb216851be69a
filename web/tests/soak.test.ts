import { expect, describe, test } from 'vitest'
import { goalWords, onTheClock, soakEntry } from '../src/words/soak'

describe('a soak as it is said', () => {
  test('the clock shows hours only once there are some, and never less than nothing', () => {
    expect(onTheClock(0)).toBe('0:00')
    expect(onTheClock(59.9)).toBe('0:59')
    expect(onTheClock(24 * 60 + 31)).toBe('24:31')
    expect(onTheClock(3600 + 4 * 60 + 9)).toBe('1:04:09')
    expect(onTheClock(-5)).toBe('0:00')
  })

  test('what is left says when it is reached', () => {
    expect(goalWords({ sure: 0.95, minutes: 108, left: 12.4 })).toBe(
      '95% sure it’s gone: 12 min to go',
    )
    expect(goalWords({ sure: 0.9, minutes: 60, left: 0 })).toBe('90% sure it’s gone: reached')
    expect(goalWords({ sure: 0.99, minutes: 600, left: 400 })).toContain('6.7 h to go')
  })

  test('every entry has its words', () => {
    const told = { times: 4, hours: 5, share: 1 }
    expect(soakEntry({ kind: 'began', told, needs: [], still: 0.5 })).toBe(
      'Started. Told: 4 times in 5 h',
    )
    expect(soakEntry({ kind: 'trigger', trigger: 'bumps', on: false })).toBe('Rough ground: off')
    expect(soakEntry({ kind: 'failed', note: 'Over the root.' })).toBe(
      'It happened. Over the root.',
    )
    expect(soakEntry({ kind: 'failed' })).toBe('It happened')
    expect(soakEntry({ kind: 'taken-off', minutes: 7 })).toBe('7 min taken off')
  })
})
