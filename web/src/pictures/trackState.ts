import type { ElementView, TrackPoint } from '../api/client'
import type { Layout, PlacedElement } from './trackLayout'

/** What is known of a piece of rail or a peg; "between" stands behind a load. */
export type State = 'supply' | 'ground' | 'between' | 'dead' | 'unknown'

/**
 * What was found at a point; nothing found, nothing known. On a drawing of how it ought to be
 * (`sure`) everything is known.
 */
export function pegState(point: TrackPoint, sure: boolean): State {
  if (sure) return point.stands
  return point.found?.stands ?? 'unknown'
}

/** Along the rail, what a point shows holds up to the next that says otherwise. */
export function railState(layout: Layout, at: PlacedElement, sure: boolean): State {
  const { x1, x2, y, element } = at
  if (sure) return element.made ? element.stands : 'dead'
  if (y > 0) return element.made ? 'unknown' : 'dead'
  const known = layout.points.filter((p) => p.point.found)
  const before = known.filter((p) => p.x <= x1 + 1).at(-1)
  const after = known.find((p) => p.x >= x2 - 1)
  const left = before && pegState(before.point, sure)
  const right = after && pegState(after.point, sure)
  if (right === 'supply') return 'supply'
  if (left === 'dead') return 'dead'
  return left === right && left ? left : 'unknown'
}

/** Under this probability a suspect has no halo. */
const HALO_FROM = 0.15

/** Width of the halo round a suspect, in pixels. */
export function halo(element: ElementView): number {
  return element.suspicion < HALO_FROM ? 0 : 2 + 5 * Math.min(element.suspicion, 1)
}

/** Whether a point has its label: those beside a gate, those read, and the chosen one. */
export function labelled(point: TrackPoint, chosen: string | undefined): boolean {
  return point.major || !!point.found || point.point.terminal === chosen
}
