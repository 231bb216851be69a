import { describe, expect, test } from 'vitest'
import type { DiagnosisView, EvidenceView, JobView } from '../src/api/client'
import { spoken } from '../src/screens/job/bay/spoken'
import { stationOf } from '../src/screens/job/stations'
import { readChips } from '../src/words/complaint'
import { backWords, offWords } from '../src/words/temporary'
import { diagnosis, measured } from './made'

const entry = (kind: string, voided = false) =>
  ({ voided: voided ? {} : null, entry: { observation: { kind } } }) as unknown as EvidenceView
const verdict = (kind: string) => ({ voided: null, units: [{ kind }] })
const job = (evidence: EvidenceView[], verdicts: object[] = [], status = 'open') =>
  ({ evidence, verdicts, status }) as unknown as JobView

describe('where a job is', () => {
  const none = diagnosis([])
  const recheck = diagnosis([measured('a', { why: 'recheck' })])
  const found = { ...none, conclusion: { confirmed: true } } as DiagnosisView

  test('goes from the complaint to giving it back', () => {
    const heard = entry('heard')
    expect(stationOf(job([]), none)).toBe('complaint')
    expect(stationOf(job([heard]), none)).toBe('test')
    expect(stationOf(job([heard]), found)).toBe('fault')
    expect(stationOf(job([heard], [verdict('part')]), found)).toBe('repair')
    const fixed = job([heard, entry('repaired')], [verdict('part')])
    expect(stationOf(fixed, recheck)).toBe('check')
    expect(stationOf(fixed, none)).toBe('give-back')
  })

  test('goes back with a repair that is undone, and on where nothing was found', () => {
    const undone = job([entry('heard'), entry('repaired', true)], [verdict('part')])
    expect(stationOf(undone, found)).toBe('repair')
    expect(stationOf(job([entry('heard')], [verdict('nothing')]), none)).toBe('give-back')
    expect(stationOf(job([], [], 'closed'), none)).toBe('give-back')
  })
})

describe('what is off', () => {
  const plug = { entry: { kind: 'unplugged' as const, connector: 'p' }, name: 'Seat switch plug' }
  const lamp = {
    entry: { kind: 'lamp-in-place' as const, connector: 'p' },
    name: 'PTO clutch plug',
  }

  test('is said by what it is, and by what puts it back', () => {
    expect([offWords(plug), backWords(plug)]).toEqual([
      'seat switch plug off',
      'Seat switch plug is back on',
    ])
    expect(backWords(lamp)).toBe('Lamp is off, PTO clutch plug is back on')
  })

  test('is all that is read aloud until it is back', () => {
    const test = measured('a', { put_back: [plug] })
    expect(spoken(undefined, test, [])).toBe('Put it back first. Seat switch plug is back on.')
    expect(spoken(undefined, undefined, [])).toBe('')
  })
})

test('what else was understood of a sentence is a chip each', () => {
  const works = { observation: { kind: 'lamp' } }
  const read = {
    at_times: true,
    times_an_hour: 2,
    since: 'a week ago',
    works: [works],
    worked_on: [{ work: 'replaced', unit: { kind: 'part', name: 'Solenoid' }, entry: works }],
  }
  expect(readChips(read as never).map((c) => c.says)).toEqual([
    'Off and on, about 2 times an hour',
    'Since: a week ago',
    'Lights work',
    'Replaced before: solenoid',
  ])
})
