import { describe, expect, test } from 'vitest'
import type { TellingView, When } from '../src/api/client'
import { WONT_CRANK, symptomWords, tellingLines, whenWords } from '../src/words/complaint'
import { key, pedal } from './made'

const at = (control: string, position: string): When => ({ kind: 'control', control, position })

describe('a complaint', () => {
  test('is said as a person says it', () => {
    const words = (when: When) => whenWords(when, [key, pedal], { main: 'main fuse' })
    expect(words(at('seat', 'empty'))).toBe('When I get off')
    expect(words(at('pedal', 'down'))).toBe('Pedal down')
    expect(words({ kind: 'fuse', fuse: 'main' })).toBe('Main fuse')
    expect([words({ kind: 'always' }), words({ kind: 'hot' }), words({ kind: 'bumps' })]).toEqual([
      'Any time',
      'When hot',
      'Over bumps',
    ])
    expect(WONT_CRANK.every((s) => symptomWords(s, 'blades'))).toBe(true)
  })

  test('speaks of what the machine drives', () => {
    expect(symptomWords('blades-drop-out', 'blades')).toBe('Blades drop out')
    expect(symptomWords('blades-drop-out', 'PTO shaft')).toBe('PTO shaft drops out')
    expect(symptomWords('blades-wont-stop', 'rear PTO')).toBe('Rear PTO won’t stop')
    expect(symptomWords('dies', 'PTO shaft')).toBe('Dies')
  })

  test('says what still works and what does not', () => {
    const entry = (does: string, pedalAt: string, more = {}) => ({
      condition: { key: 'run', pedal: pedalAt },
      engine: 'running',
      observation: { kind: 'engine', does },
      ...more,
    })
    const entries = [entry('runs', 'down'), entry('stops', 'up', { at_times: true })]
    const telling = { when: { kind: 'always' }, entries } as unknown as TellingView
    expect(tellingLines(telling, [key, pedal])).toEqual([
      'Engine keeps running: key run, pedal down',
      'Engine dies, off and on: key run, pedal up',
    ])
  })
})
