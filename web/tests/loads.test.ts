import { describe, expect, it } from 'vitest'
import { factWords, shouldWords, verdictWords, type Load, type Standing } from '../src/words/loads'

const standing: Standing = {
  word: 'shorted',
  sure: 0.984,
  ohms: { likely: 1.1, low: 1, high: 1.2 },
  by_ohms: { word: 'shorted', sure: 0.98, ohms: { likely: 1.1, low: 1, high: 1.2 } },
  by_amps: { word: 'shorted', sure: 0.95, ohms: { likely: 1.15, low: 0.95, high: 1.25 } },
  volts: 11.9,
  amps: 9.8,
  watts: 116.6,
  should_draw: 4.58,
  insulation: 'grounded',
  misfits: [],
  next: null,
}
const clutch = {
  id: 'clutch',
  name: 'electric clutch',
  kind: 'coil',
  ohms: 2.6,
  low: 2.34,
  high: 2.86,
  on: { volts: 12.1, amps: 4.65 },
  standing,
  readings: [],
} as unknown as Load

describe('what a load should be and is, in words', () => {
  it('says what a good one has and draws', () => {
    expect(shouldWords(clutch)).toBe('2.60 ohm (2.34 to 2.86) cold, 4.7 A at 12.10 V')
    expect(shouldWords({ ...clutch, kind: 'lamp' })).toBe('4.7 A at 12.10 V')
    const relay = { ...clutch, ohms: 90, low: 81, high: 99, on: null } as unknown as Load
    expect(shouldWords(relay)).toBe('90.0 ohm (81.0 to 99.0) cold')
  })

  it('says how sure it is only of what it says', () => {
    expect(verdictWords(standing)).toMatch(/^Shorted inside.* · 98%$/)
    expect(verdictWords({ ...standing, word: 'disagree' })).not.toContain('%')
    expect(verdictWords({ ...standing, word: 'not-read' })).not.toContain('%')
  })

  it('gives each reading a line, two of three giving the third', () => {
    const lines = factWords(clutch)
    expect(lines[0]).toBe('By ohms: 1.10 ohm cold (1.00 to 1.20)')
    expect(lines[1]).toContain('By amps: 1.15 ohm')
    expect(lines[2]).toBe('11.90 V × 9.8 A = 117 W; a good one draws 4.6 A')
    expect(lines[3]).toBe('Touches the frame')
    const open = { ...standing, by_ohms: { word: 'open', sure: 1, ohms: null } } as Standing
    expect(factWords({ ...clutch, standing: open })[0]).toBe('By ohms: nothing gets through')
    const volts = { ...standing, by_ohms: null, by_amps: null, amps: null, insulation: null }
    expect(factWords({ ...clutch, standing: volts as Standing })).toEqual([
      '11.90 V: a good one draws 4.6 A',
    ])
  })
})
