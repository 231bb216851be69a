import { describe, expect, test } from 'vitest'
import type { CloseUpView, SetUpEntry } from '../src/api/client'
import { closeUpAnswers, closeUpTitle, closeUpWords, namedCloseUp } from '../src/words/closeUps'
import { ampsWords, backAgainWords, standsWords } from '../src/words/setUps'
import { backWords, offWords } from '../src/words/temporary'

const names = {
  part_names: { 'seat-plug': 'Seat switch plug' },
  wires: [{ id: 'w9', name: 'white wire, key to PTO switch' }],
  test_points: [
    { terminal: 'battery.+', name: 'Battery + post' },
    { terminal: 'tab.T', name: 'Solenoid trigger' },
  ],
} as unknown as Parameters<typeof standsWords>[0]

describe('what stands otherwise', () => {
  const jumper: SetUpEntry = { kind: 'jumper', from: 'battery.+', to: 'tab.T', fuse: 15 }
  const cases: [SetUpEntry, string, string][] = [
    [
      { kind: 'unplugged', connector: 'seat-plug' },
      'seat switch plug off',
      'seat switch plug back on',
    ],
    [
      { kind: 'wire-off', wire: 'w9' },
      'white wire, key to PTO switch off',
      'white wire, key to PTO switch back on',
    ],
    [
      { kind: 'lamp-in-place', connector: 'seat-plug' },
      'seat switch plug off, lamp in place',
      'seat switch plug back on',
    ],
    [{ kind: 'battery-off' }, 'battery clamp off', 'battery clamp back on'],
    [
      jumper,
      'jumper wire on, battery + post to solenoid trigger',
      'jumper wire off again, battery + post to solenoid trigger',
    ],
  ]
  test.each(cases)('%o', (entry, stands, back) => {
    expect(standsWords(names, entry)).toBe(stands)
    expect(backAgainWords(names, entry)).toBe(back)
  })

  test('a jumper is taken off, all else goes back on', () => {
    const on = { entry: jumper, name: 'jumper wire, battery + post to solenoid trigger' }
    expect(offWords(on)).toBe('jumper wire on, battery + post to solenoid trigger')
    expect(backWords(on)).toBe('Jumper wire (battery + post to solenoid trigger) is off')
    const wire = { entry: { kind: 'wire-off' as const, wire: 'w9' }, name: names.wires[0]!.name }
    expect(offWords(wire)).toBe('white wire, key to PTO switch off')
    expect(backWords(wire)).toBe('White wire, key to PTO switch is back on')
  })
})

test('what a jumper carries is said with what a short would', () => {
  expect(ampsWords(4.42, 93.1)).toBe(
    'Carries about 4.4 A on a good machine. With a short, up to 93 A.',
  )
  expect(ampsWords(4.42, 4.6)).toBe('Carries about 4.4 A on a good machine.')
  expect(ampsWords(0, 0)).toBe('Carries next to nothing on a good machine.')
})

describe('a close look', () => {
  const all: CloseUpView['entry'][] = [
    { kind: 'coil', part: 'start-relay', pulls: true },
    { kind: 'spark', part: 'module', spark: 'yes' },
    { kind: 'fuel', flows: true },
    { kind: 'sniff', fires: true },
    { kind: 'blows', fuse: 'main-fuse', blows: false },
  ]
  test.each(all)('%o has a question, and answers that each say something else', (entry) => {
    const view = { entry, name: 'Start relay', turning: false }
    expect(closeUpTitle(view)).not.toBe('')
    const answers = closeUpAnswers(view)
    const said = answers.map((a) => closeUpWords(a.what))
    expect(new Set(said).size).toBe(answers.length)
    expect(answers.map((a) => a.what)).toContainEqual(entry)
  })

  test('goes by the part’s name', () => {
    const name = () => 'Start relay'
    expect(closeUpWords(namedCloseUp(all[0]!, name))).toBe('start relay clicks')
    expect(closeUpWords(namedCloseUp(all[4]!, name))).toBe('start relay holds')
    expect(closeUpWords(namedCloseUp(all[2]!, name))).toBe('fuel comes')
  })
})
