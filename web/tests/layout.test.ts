import { describe, expect, test } from 'vitest'
import { layOut } from '../src/pictures/trackLayout'
import { halo, labelled, pegState, railState } from '../src/pictures/trackState'
import { columns, spots } from '../src/pictures/switchDrawing'
import type { BenchView, Subject } from '../src/api/client'
import { element, trace, trackPoint } from './made'

const found = (volts: number, sound: boolean, stands: 'supply' | 'ground' | 'dead') => ({
  found: { volts, sequence: 1, sound, stands },
})

describe('a track', () => {
  const line = [element('fuse', 1, 2), element('gate', 2, 3), element('load', 3, 4)]
  const points = [1, 2, 3, 4].map((n) => trackPoint(n))

  test('fills its width, its points in order', () => {
    const { elements, points: placed, depth } = layOut(trace(line, points), 50, 800)
    expect(placed.map((p) => p.point.node)).toEqual([1, 2, 3, 4])
    expect(placed[0]!.x).toBeGreaterThan(50)
    expect(placed.at(-1)!.x).toBeLessThan(850)
    for (const [i, e] of elements.entries()) {
      expect([e.x1, e.x2]).toEqual([placed[i]!.x, placed[i + 1]!.x])
    }
    expect(depth).toBe(0)
  })

  test('lays branches under one another, each as long as its fork', () => {
    const fork = {
      kind: 'fork' as const,
      branches: [[element('gate', 2, 3)], [element('wire', 2, 5), element('gate', 5, 3)]],
    }
    const all = [element('fuse', 1, 2), fork, element('load', 3, 4)]
    const { elements, stubs, depth } = layOut(trace(all, points), 0, 600)
    const [upper] = elements.filter((e) => e.element.id === 'gate-2-3')
    const lower = elements.filter((e) => e.y > 0)
    expect(lower).toHaveLength(2)
    expect(lower[0]!.x1).toBeCloseTo(upper!.x1)
    expect(lower[1]!.x2).toBeCloseTo(upper!.x2)
    expect([stubs.length, depth]).toEqual([2, 84])
  })

  test('with nothing on it has nothing placed', () => {
    expect(layOut(trace([], []), 0, 100)).toEqual({ elements: [], points: [], stubs: [], depth: 0 })
  })

  test('shows what was found, and guesses nothing', () => {
    const [a, b, c, d] = [
      trackPoint(1, found(12.5, true, 'supply')),
      trackPoint(2),
      trackPoint(3, found(0.02, false, 'dead')),
      trackPoint(4, found(0, true, 'ground')),
    ]
    expect([a, b, c, d].map((p) => pegState(p, false))).toEqual([
      'supply',
      'unknown',
      'dead',
      'ground',
    ])
    expect(pegState(b, true)).toBe('supply')
    const layout = layOut(trace(line, [a, b, c, d]), 0, 800)
    expect(layout.elements.map((e) => railState(layout, e, false))).toEqual([
      'unknown',
      'unknown',
      'dead',
    ])
    const whole = layOut(trace(line, [a, b, { ...c, ...found(12.4, true, 'supply') }, d]), 0, 800)
    expect(whole.elements.slice(0, 2).map((e) => railState(whole, e, false))).toEqual([
      'supply',
      'supply',
    ])
  })

  test('marks what is likely, and labels what is worth it', () => {
    expect(halo({ ...element('gate', 1, 2), suspicion: 0.1 })).toBe(0)
    expect(halo({ ...element('gate', 1, 2), suspicion: 0.8 })).toBeCloseTo(6)
    const minor = trackPoint(2, { major: false })
    expect(labelled(minor, undefined)).toBe(false)
    expect(labelled(minor, 't.2')).toBe(true)
    expect(labelled({ ...minor, ...found(1, true, 'supply') }, undefined)).toBe(true)
  })
})

describe('a switch', () => {
  const subject = { terminals: ['B', 'S', 'M', 'G'], positions: [] } as unknown as Subject

  test('whose back nobody knows has its terminals in a ring, the first on top', () => {
    const ring = spots(subject)
    expect([ring[0]!.x, ring[0]!.y]).toEqual([5, expect.closeTo(1.1)])
    expect(new Set(ring.map((s) => `${s.x.toFixed(3)} ${s.y.toFixed(3)}`)).size).toBe(4)
  })

  test('has a column a pole, and bars for what is joined', () => {
    const cells = [
      { one: 'B', other: 'S', position: 'start', expected: true, follows: true },
      { one: 'M', other: 'G', position: 'off', expected: true, follows: null },
      { one: 'B', other: 'M', position: 'off', expected: false, follows: false },
    ]
    const all = columns({ subject, cells } as unknown as BenchView)
    expect(all.map((c) => [...c.terminals].sort())).toEqual([
      ['B', 'S'],
      ['G', 'M'],
    ])
    expect(all[0]!.made['start']).toEqual([{ from: 0, to: 1, found: true }])
    expect(all[1]!.made['off']).toEqual([{ from: 0, to: 1, found: false }])
  })
})
