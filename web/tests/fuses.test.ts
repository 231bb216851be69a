import { describe, expect, test } from 'vitest'
import type { Control, FusesView } from '../src/api/client'
import {
  loadWords,
  rated,
  rating,
  shortWords,
  unread,
  whenWords,
  wrongOnes,
  type Fuse,
} from '../src/words/fuses'
import { strainWords } from '../src/words/doubts'

const control = (id: string, rest: string, ...others: string[]) =>
  ({ id, name: id, rest, positions: [rest, ...others].map((p) => ({ id: p, name: p })) }) as Control
const controls = [control('key', 'off', 'run'), control('blades', 'off', 'on')]
const load = {
  amps: 8.75,
  condition: { key: 'run', blades: 'on' },
  engine: 'running',
} as const
const fuse = (of: Partial<Fuse>): Fuse => ({
  fuse: 'main-fuse',
  name: 'main fuse',
  breaker: false,
  called_for: 20,
  carried: { lasting: load },
  wires: 3,
  words: [],
  wrong: false,
  ...of,
})

describe('fuses as they are said', () => {
  test('a load says what is on, not what stands as parked', () => {
    expect(loadWords(controls, load)).toBe('8.8 A with key run, blades on and engine running')
    const parked = { ...load, condition: { key: 'off', blades: 'off' }, engine: 'stopped' as const }
    expect(whenWords(controls, parked)).toBe('everything parked')
  })

  test('a fuse is what was read on it, else what is called for', () => {
    expect(rated(fuse({}))).toBe(20)
    expect(rated(fuse({ read: 40 }))).toBe(40)
    expect(rated(fuse({ called_for: null }))).toBeUndefined()
    expect([rating(7.5), rating(20)]).toEqual(['7.5', '20'])
  })

  test('a wrong one is named, one near its load is not; a breaker is not to be read', () => {
    const over = fuse({ read: 40, words: ['over-called-for'], wrong: true })
    const near = fuse({ fuse: 'other', words: ['load-near'] })
    const view = { fuses: [over, near, fuse({ fuse: 'b', breaker: true })] } as FusesView
    expect(wrongOnes(view)).toEqual(['main fuse'])
    expect(unread(view).map((f) => f.fuse)).toEqual(['other'])
  })

  test('a short says when it blows, and where it may not', () => {
    const short = { wire: 'White wire', amps: 59.3, blows: { least: 0.06, most: 0.98 } }
    expect(shortWords(fuse({ short }))).toBe(
      'Shorted to ground at the far end of white wire: 59 A, it blows within 1.0 s',
    )
    expect(shortWords(fuse({ short: { ...short, blows: null } }))).toContain('it may not blow')
    expect(shortWords(fuse({ short: { ...short, blows: null }, breaker: true }))).toContain('trips')
    expect(shortWords(fuse({}))).toBe('')
  })

  test('what burnt a contact says which fuse let it, and which would not have', () => {
    const condition = {}
    const past = { fuse: 'Clutch fuse', rating: 30, right_one: 10 }
    const strain = {
      kind: 'overloads' as const,
      contact: 'PTO switch, clutch contacts',
      amps: 15.7,
      rated: 10,
      condition,
    }
    expect(strainWords({ ...strain, past })).toBe(
      '16 A through PTO switch, clutch contacts; contacts like that are rated 10 A; the 30 A clutch fuse lets that through, a 10 A one would blow',
    )
    expect(strainWords(strain)).not.toContain('fuse')
  })
})
