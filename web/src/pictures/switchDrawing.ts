import type { BenchView, Subject } from '../api/client'

/** A terminal where it sits, in tenths of the switch's width, right and down. */
export interface Spot {
  id: string
  x: number
  y: number
}

/** Where a switch's terminals sit, seen from the back: as its profile draws them, else in a ring. */
export function spots(subject: Subject): Spot[] {
  const at = new Map(subject.profile?.terminals.map((t) => [t.id, t.at]))
  const drawn = subject.terminals.map((id) => at.get(subject.layout?.[id] ?? id))
  return subject.terminals.map((id, i) => {
    const own = drawn.every(Boolean) ? drawn[i] : undefined
    if (own) return { id, x: own[0] ?? 5, y: own[1] ?? 5 }
    const angle = (i / subject.terminals.length) * 2 * Math.PI - Math.PI / 2
    return { id, x: 5 + 3.9 * Math.cos(angle), y: 5 + 3.9 * Math.sin(angle) }
  })
}

/** Terminals that have to do with one another, a column each, and what joins them by position. */
export interface Column {
  terminals: string[]
  /** By position, which of the terminals, by place, are joined, and how sure that is. */
  made: { [position: string]: { from: number; to: number; found: boolean }[] }
}

/** The poles of a switch as columns: those found, else those that are expected. */
export function columns(view: BenchView): Column[] {
  const group = new Map(view.subject.terminals.map((t) => [t, t]))
  const joined = view.cells.filter((c) => c.follows ?? c.expected)
  const wanted = view.cells.filter((c) => c.expected || (c.follows && c.expected == null))
  for (const c of wanted.length ? wanted : joined) {
    const [keeps, goes] = [group.get(c.one), group.get(c.other)]
    for (const [terminal, head] of group) if (head === goes && keeps) group.set(terminal, keeps)
  }
  const height = new Map(spots(view.subject).map((s) => [s.id, s.y]))
  const heads = [...new Set(group.values())]
  return heads.map((head) => {
    const terminals = view.subject.terminals.filter((t) => group.get(t) === head)
    terminals.sort((a, b) => (height.get(a) ?? 0) - (height.get(b) ?? 0))
    const made: Column['made'] = {}
    for (const c of view.cells) {
      const [from, to] = [terminals.indexOf(c.one), terminals.indexOf(c.other)]
      if (from < 0 || to < 0 || !(c.follows ?? c.expected)) continue
      const bars = (made[c.position] ??= [])
      bars.push({ from: Math.min(from, to), to: Math.max(from, to), found: c.follows != null })
    }
    return { terminals, made }
  })
}
