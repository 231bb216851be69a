import ELK, { type ElkExtendedEdge, type ElkNode, type ElkPort } from 'elkjs/lib/elk-api'
import ElkWorker from 'elkjs/lib/elk-worker.min.js?worker'
import type { HarnessView, PartView, RunView } from '../api/client'
import { capital } from '../words/units'

export interface PlacedPort {
  terminal: string
  x: number
  y: number
  /** Which side of the part it is on: the label stands inside. */
  side: 'left' | 'right' | 'top' | 'bottom'
  /** The body that its metal is one piece with. */
  body: string | undefined
}

export interface PlacedPart {
  part: PartView
  /** Its name, on a line or two. */
  lines: string[]
  x: number
  y: number
  width: number
  height: number
  ports: PlacedPort[]
}

/** A wire, or (without one) terminals that are one piece of metal. */
export interface PlacedRun {
  id: string
  run: RunView | undefined
  path: string
  /** Where its name has room, and as much of it as has; and a point in the middle of it. */
  label: { x: number; y: number; text: string } | undefined
  middle: { x: number; y: number }
}

export interface HarnessLayout {
  width: number
  height: number
  parts: PlacedPart[]
  runs: PlacedRun[]
}

/** Width of a letter of the labels, of a bold one of a name; height of a line of a name. */
const LETTER = 7.3
const BOLD = 7.9
const LINE = 16

const portId = (part: string, terminal: string) => `${part}.${terminal}`
const wide = (text: string) => Math.ceil(text.length * LETTER) + 4

/** Metal bodies: what is one piece with them is marked, not drawn. */
function bodies(harness: HarnessView): Map<string, string> {
  const metal = harness.parts.filter((p) => p.kind === 'body')
  const names = new Map(metal.map((p) => [p.id, p.name]))
  const of = new Map<string, string>()
  for (const splice of harness.splices) {
    const body = splice.find((t) => names.has(t.part))
    if (!body) continue
    for (const t of splice) of.set(portId(t.part, t.terminal), names.get(body.part)!)
  }
  return of
}

/** A long name on two lines, as even as its words allow. */
function linesOf(given: string): string[] {
  const name = capital(given)
  const words = name.split(' ')
  if (name.length <= 13 || words.length < 2) return [name]
  const splits = words.slice(1).map((_, i) => {
    return [words.slice(0, i + 1).join(' '), words.slice(i + 1).join(' ')]
  })
  const longest = (lines: string[]) => Math.max(...lines.map((l) => l.length))
  return splits.reduce((best, lines) => (longest(lines) < longest(best) ? lines : best))
}

function edges(harness: HarnessView): ElkExtendedEdge[] {
  const runs = harness.wires.map((w) => ({
    id: w.id,
    sources: [portId(w.from.port.part, w.from.port.terminal)],
    targets: [portId(w.to.port.part, w.to.port.terminal)],
  }))
  const metal = new Set(harness.parts.filter((p) => p.kind === 'body').map((p) => p.id))
  const joints = harness.splices
    .filter((s) => !s.some((t) => metal.has(t.part)))
    .flatMap((s, i) =>
      s.slice(1).map((t, j) => ({
        id: `splice-${i}-${j}`,
        sources: [portId(s[0]!.part, s[0]!.terminal)],
        targets: [portId(t.part, t.terminal)],
      })),
    )
  return [...runs, ...joints]
}

function node(part: PartView, used: Set<string>, body: Map<string, string>): ElkNode {
  const ports = part.ports.filter((p) => used.has(portId(part.id, p.terminal)))
  const lines = linesOf(part.name)
  const width = Math.max(...lines.map((l) => l.length * BOLD)) + 10
  return {
    id: part.id,
    labels: [{ text: part.name, width, height: lines.length * LINE + 4 }],
    ports: ports.map((p): ElkPort => {
      const id = portId(part.id, p.terminal)
      const label = body.has(id) ? `${p.terminal}   ` : p.terminal
      return { id, width: 8, height: 8, labels: [{ text: label, width: wide(label), height: 14 }] }
    }),
    layoutOptions: {
      'elk.portConstraints': 'FREE',
      'elk.portLabels.placement': 'INSIDE',
      'elk.nodeLabels.placement': 'INSIDE V_TOP H_CENTER',
      'elk.nodeSize.constraints': 'PORTS PORT_LABELS NODE_LABELS MINIMUM_SIZE',
      'elk.nodeSize.minimum': '(50, 40)',
      'elk.spacing.portPort': '12',
      'elk.spacing.labelPortHorizontal': '6',
    },
  }
}

interface Point {
  x: number
  y: number
}

function pointsOf(edge: ElkExtendedEdge): Point[][] {
  return (edge.sections ?? []).map((s) => [s.startPoint, ...(s.bendPoints ?? []), s.endPoint])
}

function path(edge: ElkExtendedEdge): string {
  const line = (points: Point[]) => points.map((p, i) => `${i ? 'L' : 'M'}${p.x} ${p.y}`).join('')
  return pointsOf(edge).map(line).join('')
}

/** The longest level stretch of a wire: its name stands on it. */
function stretch(edge: ElkExtendedEdge): { x: number; y: number; long: number } {
  const level = pointsOf(edge).flatMap((points) =>
    points.slice(1).map((to, i) => ({ from: points[i]!, to })),
  )
  const flat = level.filter(({ from, to }) => Math.abs(from.y - to.y) < 1)
  const long = ({ from, to }: { from: Point; to: Point }) => Math.abs(from.x - to.x)
  const [first, ...rest] = flat.length ? flat : level
  if (!first) return { x: 0, y: 0, long: 0 }
  const best = rest.reduce((a, b) => (long(b) > long(a) ? b : a), first)
  return { x: (best.from.x + best.to.x) / 2, y: best.from.y, long: long(best) }
}

function placed(edge: ElkExtendedEdge, run: RunView | undefined): PlacedRun {
  const { x, y, long } = stretch(edge)
  // A wire goes by its color, as it does on the machine.
  const text = run?.color && wide(run.color) <= long ? run.color : undefined
  return {
    id: edge.id,
    run,
    path: path(edge),
    label: text ? { x, y: y - 4, text } : undefined,
    middle: { x, y },
  }
}

function side(port: ElkPort, width: number, height: number): PlacedPort['side'] {
  const { x = 0, y = 0 } = port
  if (x < 0) return 'left'
  if (x >= width - 1) return 'right'
  return y >= height - 1 ? 'bottom' : 'top'
}

/** Started once: its script is large. */
const elk = new ELK({ workerFactory: () => new ElkWorker() })

/** Lays the wiring out, in a worker. */
export async function layHarness(harness: HarnessView): Promise<HarnessLayout> {
  const drawn = edges(harness)
  const used = new Set(drawn.flatMap((e) => [...e.sources, ...e.targets]))
  const body = bodies(harness)
  const parts = harness.parts.filter((p) => p.ports.some((t) => used.has(portId(p.id, t.terminal))))
  const graph: ElkNode = {
    id: 'harness',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'RIGHT',
      'elk.edgeRouting': 'ORTHOGONAL',
      'elk.layered.spacing.nodeNodeBetweenLayers': '24',
      'elk.layered.spacing.edgeEdgeBetweenLayers': '11',
      'elk.layered.spacing.edgeNodeBetweenLayers': '12',
      'elk.layered.compaction.postCompaction.strategy': 'EDGE_LENGTH',
      'elk.spacing.nodeNode': '18',
      'elk.spacing.edgeEdge': '15',
      'elk.spacing.edgeNode': '12',
      'elk.padding': '[top=16,left=16,bottom=16,right=16]',
    },
    children: parts.map((p) => node(p, used, body)),
    edges: drawn,
  }
  const laid = await elk.layout(graph)
  const byId = new Map(parts.map((p) => [p.id, p]))
  const wires = new Map(harness.wires.map((w) => [w.id, w]))
  return {
    width: laid.width ?? 0,
    height: laid.height ?? 0,
    parts: (laid.children ?? []).map((n): PlacedPart => {
      const { x = 0, y = 0, width = 0, height = 0 } = n
      const ports = (n.ports ?? []).map((p): PlacedPort => ({
        terminal: p.id.slice(n.id.length + 1),
        x: x + (p.x ?? 0) + 4,
        y: y + (p.y ?? 0) + 4,
        side: side(p, width, height),
        body: body.get(p.id),
      }))
      const part = byId.get(n.id)!
      return { part, lines: linesOf(part.name), x, y, width, height, ports }
    }),
    runs: (laid.edges ?? []).map((e) => placed(e, wires.get(e.id))),
  }
}
