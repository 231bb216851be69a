import { describe, expect, test } from 'vitest'
import type { EvidenceView, JobView } from '../src/api/client'
import { labels, roomNeeded } from '../src/pictures/trackLabels'
import { chaptersOf } from '../src/screens/sheet/chapters'
import { moveWords } from '../src/words/tests'
import { trackPoint } from './made'

describe('what goes on paper', () => {
  const entry = (sequence: number, kind: string, more: object = {}) =>
    ({
      sequence,
      voided: null,
      ...more,
      entry: { source: 'tested', observation: { kind }, ...more },
    }) as unknown as EvidenceView

  test('are the repairs, what was tried since the last, and what was undone', () => {
    const evidence = [
      entry(1, 'heard'),
      entry(2, 'repaired'),
      entry(3, 'reading'),
      entry(4, 'heard'),
      entry(5, 'heard', { source: 'told' }),
      entry(6, 'heard', { voided: {} }),
    ]
    const chapters = chaptersOf({ evidence } as JobView)
    expect(chapters.repairs.map((e) => e.sequence)).toEqual([2])
    expect(chapters.checks.map((e) => e.sequence)).toEqual([4])
    expect(chapters.undone.map((e) => e.sequence)).toEqual([6])
    expect(chaptersOf({ evidence: evidence.slice(0, 1) } as JobView).checks).toEqual([])
  })
})

describe('names under a track', () => {
  const placed = (names: string[], step: number) =>
    names.map((short, i) => {
      const point = trackPoint(i)
      return {
        point: { ...point, major: true, point: { ...point.point, short } },
        x: i * step,
        y: 0,
      }
    })

  test('stand in two rows by turns, and need no more room where they have it', () => {
    const all = labels(placed(['in', 'out', 'in'], 60), undefined)
    expect(all.map((l) => l.row)).toEqual([0, 1, 0])
    expect(roomNeeded(all)).toBe(1)
  })

  test('need more where a name would run into the next of its row, or a figure into its neighbor', () => {
    expect(
      roomNeeded(labels(placed(['start out', 'start in', 'start out'], 30), undefined)),
    ).toBeGreaterThan(1.3)
    expect(roomNeeded(labels(placed(['a', 'b'], 24.5), undefined))).toBe(2)
  })
})

test('a move with the engine running is what a person does', () => {
  const controls = [
    { id: 'seat', name: 'Seat', rest: 'on', positions: [{ id: 'on' }, { id: 'empty' }] },
    { id: 'brake', name: 'Brake', rest: 'on', positions: [{ id: 'off', name: 'off' }] },
  ]
  const from = { seat: 'on', brake: 'on' }
  expect(moveWords(controls as never, from, { ...from, seat: 'empty' })).toBe('Now get up.')
  expect(moveWords(controls as never, from, { ...from, brake: 'off' })).toBe(
    'Now set brake to OFF.',
  )
  expect(moveWords(controls as never, from, from)).toBe('')
})
