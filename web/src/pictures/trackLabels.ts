import type { PlacedPoint } from './trackLayout'
import { labelled } from './trackState'

/** Pixels that a letter of a name, and a figure like 12.44, take. */
const LETTER = 8
const FIGURE = 49

/** A point that has words under it, in the first row or the second. */
export interface Label {
  point: PlacedPoint
  row: 0 | 1
}

/** The points along the rail that have words, in two rows by turns. */
export function labels(points: PlacedPoint[], chosen: string | undefined): Label[] {
  const on = points.filter((p) => p.y === 0 && labelled(p.point, chosen))
  return on.map((point, i) => ({ point, row: i % 2 === 0 ? 0 : 1 }))
}

/** By how much the rail must be wider for no name and no figure to run into another. */
export function roomNeeded(all: Label[]): number {
  const width = (l: Label) => l.point.point.point.short.length * LETTER
  const needs = all.flatMap((label, i) => {
    const [next, same] = [all[i + 1], all[i + 2]]
    const apart = (other: Label, room: number) => room / Math.max(other.point.x - label.point.x, 1)
    return [
      ...(next ? [apart(next, FIGURE)] : []),
      ...(same ? [apart(same, (width(label) + width(same)) / 2 + 8)] : []),
    ]
  })
  return Math.max(1, ...needs)
}
