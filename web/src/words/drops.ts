import type { DropsView } from '../api/client'
import CODES from './codes.json'
import { amps, volts } from './numbers'
import { SAY } from './say'
import { list, lower } from './units'

type Walk = DropsView['walk']
export type Span = Walk['spans'][number]

export const DROP_WORDS: { [word in Walk['word']]: string } = CODES.drop_words
export const SPAN_WORDS: { [word in Span['word']]: string } = CODES.span_words
export const STARTER_WORDS: {
  [word in NonNullable<Walk['starter']>['word']]: string
} = CODES.starter_words
export const AMPS_BY: { [by in Walk['amps']['by']]: string } = CODES.amps_by

/** Watts that anybody could feel, whole; else to a tenth. */
export function watts(value: number): string {
  return `${value.toFixed(value < 10 ? 1 : 0)} W`
}

/** "Battery + post to battery + clamp" */
export function acrossWords(view: DropsView, from: number, to: number): string {
  const [first, last] = [view.points[from], view.points[to]]
  return first && last ? `${first.name} to ${lower(last.name)}` : ''
}

/** The points that a span reaches from and to. */
export function ends(span: Span): [number, number] {
  return [Math.min(...span.stretches), Math.max(...span.stretches) + 1]
}

/** What lies in a span, each once. */
export function partsWords(
  view: DropsView,
  span: Pick<Span, 'stretches'>,
  join: 'and' | 'or' = 'or',
): string {
  const names = span.stretches.flatMap((k) => view.stretches[k]?.parts.map((p) => p.name) ?? [])
  return list([...new Set(names)], join)
}

/** "68 A, by clamp. A good one draws 138 A." */
export function drawnWords(view: DropsView): string {
  const { likely, low, high, by } = view.walk.amps
  const range = by === 'figures' ? '' : ` (${amps(low)} to ${amps(high)})`
  const good = `${SAY.drops.goodOne}: ${amps(view.sound_amps)} A`
  return by === 'figures'
    ? `about ${amps(likely)} A ${AMPS_BY[by]}`
    : `${amps(likely)} A${range} ${AMPS_BY[by]}; ${good}`
}

/** "0.97 V of up to 0.50 V", once a whole side is known. */
export function sideWords(side: Walk['supply']): string {
  if (!side) return ''
  const most = `${SAY.drops.upTo} ${volts(side.limit)} V`
  const trade = `shops go by ${volts(side.trade)} V`
  return side.volts == null
    ? `${SAY.drops.notRead}; ${SAY.drops.goodOne} ${most}`
    : `${volts(side.volts)} V; ${SAY.drops.goodOne} ${most}, ${trade}`
}
