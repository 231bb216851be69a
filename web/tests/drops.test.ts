import { describe, expect, test } from 'vitest'
import type { DropsView, PointView, UnitView } from '../src/api/client'
import { dropRuns } from '../src/pictures/dropRuns'
import { acrossWords, drawnWords, ends, partsWords, sideWords, type Span } from '../src/words/drops'

const span = (stretches: number[], volts = 0.5): Span => ({
  stretches,
  volts,
  low: volts,
  high: volts,
  expected: 0.1,
  limit: 0.2,
  trade: 0.1,
  watts: 30,
  word: 'too-much',
})
const point = (name: string) => ({ name, terminal: name }) as PointView
const part = (name: string) => ({ id: name, name }) as UnitView
const amps = { likely: 68, low: 64, high: 72, by: 'clamp' } as const
const view = {
  points: [point('Battery + post'), point('Battery + clamp'), point('Stud'), point('Case')],
  stretches: [
    { parts: [part('battery + clamp')], uses: false },
    { parts: [part('red wire'), part('starter solenoid')], uses: false },
    { parts: [part('starter solenoid')], uses: false },
  ],
  sound_amps: 138,
  walk: { amps },
} as unknown as DropsView

describe('drops as they are said and drawn', () => {
  test('what was read over several pieces is one block, and two where something in it is known', () => {
    const runs = dropRuns([span([0, 1, 2]), span([3, 6]), span([4, 5])])
    expect(runs.map((r) => [r.first, r.last])).toEqual([
      [0, 2],
      [3, 3],
      [6, 6],
      [4, 5],
    ])
    expect(runs[1]?.span).toBe(runs[2]?.span)
  })

  test('a place is said by its ends and by what lies in it, each once', () => {
    expect(ends(span([3, 6]))).toEqual([3, 7])
    expect(acrossWords(view, 0, 1)).toBe('Battery + post to battery + clamp')
    expect(partsWords(view, { stretches: [1, 2] })).toBe('red wire or starter solenoid')
    expect(acrossWords(view, 0, 9)).toBe('')
  })

  test('a current says how it is known, and a drawing’s figure that nobody measured it', () => {
    expect(drawnWords(view)).toBe('68 A (64 to 72) by clamp; a good one: 138 A')
    const walk = { ...view.walk, amps: { ...amps, by: 'figures' as const } }
    expect(drawnWords({ ...view, walk })).toBe('about 68 A by the drawing, nobody measured it')
  })

  test('a side that was not read says what it may lose', () => {
    expect(sideWords({ limit: 0.61, trade: 0.5 })).toBe('not read; a good one up to 0.61 V')
    expect(sideWords({ volts: 0.97, limit: 0.61, trade: 0.5 })).toBe(
      '0.97 V; a good one up to 0.61 V, shops go by 0.50 V',
    )
    expect(sideWords(null)).toBe('')
  })
})
