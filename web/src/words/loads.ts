import type { LoadsView } from '../api/client'
import CODES from './codes.json'
import { amps, ohms, percent, volts } from './numbers'
import { SAY } from './say'

export type Load = LoadsView['loads'][number]
export type Standing = Load['standing']
export type LoadNext = NonNullable<Standing['next']>

export const LOAD_WORDS: { [word in Standing['word']]: string } = CODES.load_words
export const LOAD_MISFITS: { [misfit in Standing['misfits'][number]]: string } = CODES.load_misfits
export const INSULATIONS: { [word in NonNullable<Standing['insulation']>]: string } =
  CODES.insulations

/** What a load is called where something is wrong with it. */
export const BAD: Standing['word'][] = ['shorted', 'high', 'open', 'disagree']

/** "Shorted inside: it draws too much · 98%" */
export function verdictWords({ word, sure }: Standing): string {
  const said = LOAD_WORDS[word]
  return word === 'not-read' || word === 'unsure' || word === 'disagree'
    ? said
    : `${said} · ${percent(sure)}`
}

/** "Should be 2.60 ohm (2.34 to 2.86) cold. Draws 4.6 A at 12.1 V." */
export function shouldWords(load: Load): string {
  const cold =
    load.kind === 'lamp'
      ? ''
      : `${ohms(load.ohms)} ohm (${ohms(load.low)} to ${ohms(load.high)}) ${SAY.loads.cold}`
  const on = load.on ? `${amps2(load.on.amps)} A ${SAY.loads.at} ${volts(load.on.volts)} V` : ''
  return [cold, on].filter(Boolean).join(', ')
}

/** Amps of something small to the hundredth. */
export function amps2(value: number): string {
  return Math.abs(value) < 1 ? value.toFixed(2) : amps(value)
}

/** What its readings say, a line each. */
export function factWords(load: Load): string[] {
  const s = load.standing
  const lines: string[] = []
  const said = (own: Standing['by_ohms']) => {
    if (!own?.ohms) return own ? SAY.loads.nothingThrough : ''
    const { likely, low, high } = own.ohms
    return `${ohms(likely)} ohm ${SAY.loads.cold} (${ohms(low)} to ${ohms(high)})`
  }
  if (s.by_ohms) lines.push(`${SAY.loads.byOhms}: ${said(s.by_ohms)}`)
  if (s.by_amps) lines.push(`${SAY.loads.byAmps}: ${said(s.by_amps)}`)
  if (s.volts != null && s.amps != null)
    lines.push(
      `${volts(s.volts)} V ${SAY.loads.times} ${amps2(s.amps)} A = ${(s.watts ?? 0).toFixed(0)} W; ${SAY.loads.goodDraws} ${amps2(s.should_draw ?? 0)} A`,
    )
  else if (s.volts != null)
    lines.push(`${volts(s.volts)} V: ${SAY.loads.goodDraws} ${amps2(s.should_draw ?? 0)} A`)
  if (s.insulation) lines.push(INSULATIONS[s.insulation])
  return lines
}
