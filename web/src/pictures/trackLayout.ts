import type { ElementView, PieceView, TraceView, TrackPoint } from '../api/client'

export interface PlacedElement {
  element: ElementView
  x1: number
  x2: number
  y: number
}

export interface PlacedPoint {
  point: TrackPoint
  x: number
  y: number
}

/** Where a branch leaves the rail or comes back to it. */
export interface Stub {
  x: number
  y1: number
  y2: number
}

export interface Layout {
  elements: PlacedElement[]
  points: PlacedPoint[]
  stubs: Stub[]
  /** How far the lowest branch lies under the rail, in pixels. */
  depth: number
}

/** Room each thing takes along the rail, in shares. */
const NODE = { major: 1.7, minor: 0.3, plain: 0.06 }
const ELEMENT = {
  gate: 0.25,
  fuse: 0.4,
  load: 0.5,
  wire: 0.25,
  diode: 0.4,
  joint: 0.05,
  ground: 0.1,
}
/** Pixels from one branch to the next below it. */
const BRANCH = 84

/**
 * Places a track on a rail from `left` of the given width, in pixels.
 *
 * Only nodes are placed; an element reaches from one of its nodes to the other. A branch lies
 * under the one before it and is stretched to the length of its fork.
 */
export function layOut(trace: TraceView, left: number, width: number): Layout {
  const byNode = new Map(trace.points.map((p) => [p.node, p]))
  const layout: Layout = { elements: [], points: [], stubs: [], depth: 0 }
  const first = trace.track[0]
  const last = trace.track.at(-1)
  if (!first || !last) return layout

  const half = (node: number) => {
    const point = byNode.get(node)
    return (point ? (point.major ? NODE.major : NODE.minor) : NODE.plain) / 2
  }
  const room = (piece: PieceView): number =>
    piece.kind === 'fork' ? Math.max(...piece.branches.map(length)) : ELEMENT[piece.role]
  /** From the middle of a stretch's first node to the middle of its last. */
  const length = (pieces: PieceView[]): number =>
    pieces.reduce((sum, p) => sum + half(startNode(p)) + room(p) + half(endNode(p)), 0)

  const run = (pieces: PieceView[], from: number, y: number, scale: number) => {
    layout.depth = Math.max(layout.depth, y)
    let x1 = from
    for (const piece of pieces) {
      const own = half(startNode(piece)) + room(piece) + half(endNode(piece))
      const x2 = x1 + own * scale
      if (piece.kind === 'fork') {
        piece.branches.forEach((branch, b) => {
          const lower = y + b * BRANCH
          if (b > 0) layout.stubs.push({ x: x1, y1: y, y2: lower }, { x: x2, y1: y, y2: lower })
          run(branch, x1, lower, (x2 - x1) / length(branch))
        })
      } else {
        layout.elements.push({ element: piece, x1, x2, y })
      }
      put(endNode(piece), x2, y)
      x1 = x2
    }
  }
  const put = (node: number, x: number, y: number) => {
    const point = byNode.get(node)
    if (point && !layout.points.some((p) => p.point.node === node))
      layout.points.push({ point, x, y })
  }

  const ends = half(startNode(first)) + half(endNode(last))
  const scale = width / (length(trace.track) + ends)
  const from = left + half(startNode(first)) * scale
  put(startNode(first), from, 0)
  run(trace.track, from, 0, scale)
  layout.points.sort((a, b) => a.x - b.x || a.y - b.y)
  return layout
}

function startNode(piece: PieceView): number {
  return piece.kind === 'fork' ? startNode(piece.branches[0]![0]!) : piece.from
}

function endNode(piece: PieceView): number {
  return piece.kind === 'fork' ? endNode(piece.branches[0]!.at(-1)!) : piece.to
}
