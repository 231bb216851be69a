import type { Span } from '../words/drops'

/** A piece of the way without a gap, by its first and last stretch. */
export interface Run {
  first: number
  last: number
  span: Span
}

/** The pieces that spans are drawn as: a span with a gap, where something in it is known by itself, is two. */
export function dropRuns(spans: Span[]): Run[] {
  return spans.flatMap((span) => {
    const all: Run[] = []
    for (const k of span.stretches) {
      const before = all.at(-1)
      if (before?.last === k - 1) before.last = k
      else all.push({ first: k, last: k, span })
    }
    return all
  })
}
