import { describe, expect, test } from 'vitest'
import type {
  CauseView,
  FaultSize,
  LostView,
  Outcome,
  SetUpView,
  TestView,
} from '../src/api/client'
import { stepControl } from '../src/input/stepControl'
import { answersOf, typedSign } from '../src/screens/sweep/signs'
import { causeTest } from '../src/words/causes'
import { breakWords } from '../src/words/finding'
import { milliohms, minutes, ohms, percent, volts } from '../src/words/numbers'
import { CAUTIONS, DANGERS } from '../src/words/cautions'
import { EFFECT, PART_KIND } from '../src/words/codes'
import { sayings, shouldDo, question } from '../src/words/noticed'
import {
  conditionWords,
  moves,
  rangeWords,
  setUpTitle,
  setUpWords,
  whyWords,
} from '../src/words/tests'
import { leftWords } from '../src/words/temporary'
import { MODES, capital, failing, list, lower, sizeWords } from '../src/words/units'
import { key, measured, pedal, point } from './made'

describe('figures', () => {
  test('are as long as they are worth', () => {
    expect([12.449, -0.001, 0].map(volts)).toEqual(['12.45', '0.00', '0.00'])
    expect([0.2, 12.34, 330, 4700, 2.2e6].map(ohms)).toEqual([
      '0.20',
      '12.3',
      '330',
      '4.7 k',
      '2.2 M',
    ])
    expect([0.0021, 0.034].map(milliohms)).toEqual(['2.1 mΩ', '34 mΩ'])
    expect([0.4, 6.4].map(minutes)).toEqual(['under 1 min', 'about 6 min'])
  })

  test('never claim certainty', () => {
    expect([0, 0.004, 0.5, 0.996, 1].map(percent)).toEqual(['0%', '<1%', '50%', '99%', '100%'])
  })
})

describe('how great a fault is', () => {
  const size = (kind: FaultSize['kind'], low: number, high: number) =>
    sizeWords({ kind, low, likely: (low + high) / 2, high })
  test('is said in the measure one would say it in', () => {
    expect(size('ohms', 0.0283, 0.0341)).toBe('28 to 34 milliohms')
    expect(size('ohms', 0.8, 1.64)).toBe('0.8 to 1.6 ohms')
    expect(size('inner-ohms', 0.06, 0.08)).toBe('60 to 80 milliohms inside')
    expect(size('volts', 10.88, 10.94)).toBe('about 10.9 volts at rest')
    expect(size('share', 0.55, 0.651)).toBe('55 to 65% of the turns shorted')
  })
})

describe('names', () => {
  test('keep their abbreviations', () => {
    expect(['PTO switch', 'Seat switch', ''].map(lower)).toEqual(['PTO switch', 'seat switch', ''])
    expect(capital('seat switch')).toBe('Seat switch')
    expect(list(['a', 'b', 'c'], 'or')).toBe('a, b or c')
    expect(list(['a'], 'and')).toBe('a')
  })

  test('say how a unit fails', () => {
    const unit = { id: 'pedal', kind: 'part' as const, name: 'Pedal switch' }
    expect(failing(unit, 'open', 'start contacts')).toBe('Pedal switch, start contacts open')
    expect(failing({ ...unit, kind: 'linkage' }, 'linkage-holds', undefined)).toBe(
      'Linkage does not let go of the pedal switch',
    )
    expect(failing(unit, undefined, undefined)).toBe('Pedal switch')
    const wire = { ...unit, kind: 'wire' as const, name: 'red wire, key switch to PTO switch' }
    expect(failing(wire, 'open', undefined)).toBe('Red wire, key switch to PTO switch: open')
  })

  test('of codes are there for every code', () => {
    for (const table of [CAUTIONS, DANGERS, EFFECT, MODES, PART_KIND]) {
      const words = Object.values(table)
      expect(words.length).toBeGreaterThan(5)
      expect(words.every((w) => w.trim().length > 2)).toBe(true)
    }
  })
})

describe('what to do first', () => {
  const setUp = (kind: string, name: string, id = 'x'): SetUpView =>
    ({ entry: { kind, connector: id, switch: id }, name }) as unknown as SetUpView

  test('names only the controls that have to be moved', () => {
    const now = { key: 'off', pedal: 'down' }
    expect(moves([key, pedal], now, { key: 'start', pedal: 'down' })).toEqual(['Key START'])
    expect(moves([key, pedal], now, now)).toEqual([])
    // What is not said stands at rest.
    expect(moves([key, pedal], now, { key: 'off' })).toEqual(['Pedal up'])
    expect(conditionWords([key, pedal], { key: 'run' }, 'running')).toBe(
      'key run, pedal up, engine running',
    )
  })

  test('begins with the battery’s clamp', () => {
    const all = [setUp('unplugged', 'Seat plug'), setUp('battery-off', 'battery')]
    expect(setUpWords(all)).toBe('Take the battery negative clamp off and unplug the seat plug.')
    expect(setUpWords([])).toBe('')
  })

  test('says “its” of a switch whose own plug is named just before', () => {
    const all = [setUp('unplugged', 'Seat switch plug'), setUp('pressed-by-hand', 'Seat switch')]
    expect(setUpWords(all)).toBe('Unplug the seat switch plug and press its plunger by hand.')
    expect(setUpTitle(all[1]!)).toBe('Seat switch pressed by hand')
  })
})

describe('what a test would tell', () => {
  test('is a range in few words', () => {
    expect(rangeWords({ kind: 'volts', low: 12.3, high: 12.5 })).toBe('About 12.40 V')
    expect(rangeWords({ kind: 'volts', low: 0, high: 3 })).toBe('0.00 to 3.00 V')
    expect(rangeWords({ kind: 'ohms', low: 0, high: 0.3 })).toBe('Under 0.5 ohm')
    expect(rangeWords({ kind: 'over-range' })).toBe('OL')
  })

  test('has a reason', () => {
    const leaves = [{ unit: { kind: 'part', name: 'Key switch' }, probability: 0.9 }]
    const answer = (probability: number) => ({ probability, leaves }) as TestView['answers'][number]
    expect(whyWords(measured('a', { answers: [answer(0.57), answer(0.43)] }))).toBe(
      '57 % chance this points to the key switch',
    )
    expect(whyWords(measured('a', { why: 'recheck' }))).toMatch(/after the repair/)
    expect(whyWords(measured('a'))).toMatch(/won’t tell you much/)
  })

  test('that is tried has its question and every answer', () => {
    const tried = (attend: string, engine: string) =>
      question(measured('a', { action: { kind: 'try', attend }, engine } as never))
    expect(tried('starter', 'stopped')?.answers).toHaveLength(5)
    expect(tried('engine', 'cranking')?.answers.map((a) => a.label)).toContain('Fires up')
    expect(tried('blades', 'running')?.answers).toHaveLength(2)
    expect(question(measured('a'))).toBeUndefined()
    expect(sayings('stopped', false, false)).toEqual([])
    expect(sayings('running', true, true)).toHaveLength(5)
  })
})

describe('what a good machine does', () => {
  const does = (more: Partial<Outcome>) =>
    ({ crank: 'no', spark: ['fires'], clutch: null, fuel: null, ...more }) as Outcome

  test('is the starter of an engine that stands, and whether a running one goes on', () => {
    expect(shouldDo(does({ crank: 'yes' }), 'stopped', true)).toBe('cranks')
    expect(shouldDo(does({ spark: ['killed'] }), 'stopped', true)).toBe(
      'won’t crank and engine shuts off',
    )
    expect(shouldDo(does({}), 'running', true)).toBe('engine keeps running')
    expect(shouldDo(does({ spark: ['killed', 'killed'] }), 'running-hot', true)).toBe(
      'engine shuts off',
    )
    // A diesel has no spark to kill.
    expect(shouldDo(does({ spark: [], fuel: false }), 'running', true)).toBe('engine shuts off')
    expect(shouldDo(does({ clutch: 'engaged' }), 'running', true)).toBe(
      'engine keeps running and blades turn',
    )
    expect(shouldDo(does({}), 'stopped', false)).toBe('engine can run')
  })
})

describe('a break', () => {
  const lost: LostView = {
    before: point('a', 'Brake switch, in'),
    after: point('b', 'Brake switch, out'),
    volts: 12.5,
    between: [],
    gates: [],
  }
  const gate = {
    name: 'Pedal switch, start contacts',
    gate: { control: 'pedal', control_name: 'Pedal', position_name: 'down' },
  }

  test('is named by its one gate, by how many, or by none', () => {
    expect(breakWords({ ...lost, gates: [gate] }, 12.6)).toBe(
      'The pedal switch’s start contacts are open with the pedal down.',
    )
    expect(breakWords({ ...lost, gates: [gate, gate] }, 12.6)).toMatch(
      /^One of the 2 contacts between Brake/,
    )
    expect(breakWords(lost, 12.6)).toMatch(/a wire, a plug or a joint is open/)
  })

  test('is no open circuit where part of the volts comes through', () => {
    const partly = { ...lost, volts: 3.14 }
    expect(breakWords({ ...partly, gates: [gate] }, 11.5)).toBe(
      'The pedal switch’s start contacts lose 3.14 V with the pedal down.',
    )
    expect(breakWords(partly, 11.5)).toMatch(/a wire, a plug or a joint loses 3.14 V there/)
  })
})

describe('keys', () => {
  test('step a control on and back, round its end', () => {
    const at = { key: 'start', pedal: 'up' }
    expect(stepControl([key, pedal], at, 'k', false)).toEqual({ control: 'key', position: 'off' })
    expect(stepControl([key, pedal], at, 'k', true)).toEqual({ control: 'key', position: 'run' })
    expect(stepControl([key, pedal], at, 'x', false)).toBeUndefined()
  })

  test('of a sweep are those that its instrument can answer', () => {
    expect(answersOf('buzzer').map((a) => a.sign)).toEqual(['buzzes', 'silent'])
    expect(answersOf('diode-range').map((a) => a.sign)).toEqual(['buzzes', 'drop', 'silent'])
    expect(typedSign('buzzer', 'silent')).toEqual(['buzzer', 'silent'])
    expect(typedSign('diode-range', 'drop')).toEqual(['diode-range', '0.60'])
  })
})

describe('who left it so', () => {
  const plug = { kind: 'unplugged', connector: 'seat-plug' } as const
  const off = (since: string | null) => ({
    entry: plug,
    name: 'seat switch plug',
    by: 'Ilse',
    since,
  })
  const noon = new Date(2026, 10, 30, 12, 0)
  test('with the time today, with the day before', () => {
    const at = new Date(2026, 10, 30, 9, 5).toISOString()
    expect(leftWords(off(at), noon)).toMatch(/^since 0?9:05, Ilse$/)
    const before = new Date(2026, 10, 28, 9, 5).toISOString()
    expect(leftWords(off(before), noon)).toMatch(/^since Sat.*28.* 0?9:05, Ilse$/)
    expect(leftWords(off(null), noon)).toBe('Ilse')
  })
})

describe('what tells whether a cause is there', () => {
  const measure = {
    kind: 'measure',
    instrument: 'ohmmeter',
    red: point('Clutch +'),
    black: point('Clutch -'),
  }
  test('is said with what a good one reads', () => {
    const cause = { test: { action: measure }, good: { kind: 'ohms', low: 2.6, high: 3.2 } }
    const said = causeTest(cause as unknown as CauseView)
    expect(said).toMatch(/^Ohmmeter, clutch \+ to clutch -\. A good one: /)
    expect(causeTest({ ...cause, test: null } as unknown as CauseView)).toBe('')
  })
})
