import type { BatteryReading, BatteryState, BatteryView, Chemistry } from '../api/client'
import CODES from './codes.json'
import { percent } from './numbers'

export const BATTERY_READINGS: { [reading in BatteryReading]: string } = CODES.battery_readings
export const BATTERY_CAUTIONS: { [reading in BatteryReading]: string } = CODES.battery_cautions
export const BATTERY_STATES: { [state in BatteryState]: string } = CODES.battery_states
export const BATTERY_WORDS: { [word in Standing['word']]: string } = CODES.battery_words
export const CHEMISTRY: { [chemistry in Chemistry]: string } = CODES.battery_chemistry

type Standing = BatteryView['standing']
type Cranking = NonNullable<Standing['cranking']>

const STARTER: { [does in Cranking['does'][number]['does']]: string } = {
  yes: 'cranks',
  slow: 'cranks slowly',
  chatter: 'chatters',
  click: 'clicks once',
  no: 'does nothing',
}

export type Degrees = 'F' | 'C'

/** "46 °F" */
export function warmth(celsius: number, degrees: Degrees): string {
  return `${Math.round(degrees === 'F' ? celsius * 1.8 + 32 : celsius)} °${degrees}`
}

/** What was typed, in Celsius. */
export function celsius(typed: number, degrees: Degrees): number {
  return degrees === 'F' ? (typed - 32) / 1.8 : typed
}

/** A number as people type it; none where it is none. */
export function typedNumber(text: string): number | undefined {
  const plain = text
    .trim()
    .replace(',', '.')
    .replace(/\s*[a-z%°]+$/i, '')
  const value = Number(plain)
  return plain && Number.isFinite(value) ? value : undefined
}

const round = (value: number) => (value < 10 ? value.toFixed(1) : value.toFixed(0))

/** "45 to 65%" */
export function between(range: Standing['charge'], unit: string, show = round): string {
  const [low, high] = [show(range.low), show(range.high)]
  return low === high ? `${low}${unit}` : `${low} to ${high}${unit}`
}

/** "6.2 h", "40 min", "2 days" */
export function time(hours: number): string {
  if (hours < 1) return `${Math.max(Math.round(hours * 60), 1)} min`
  return hours < 48 ? `${round(hours)} h` : `${Math.round(hours / 24)} days`
}

/** What this machine's starter would do, the likeliest first. */
export function starterDoes(cranking: Cranking): string {
  const likely = cranking.does.filter((d) => d.chance >= 0.04)
  const [first] = likely
  if (likely.length === 1 && first) return STARTER[first.does]
  return likely.map((d) => `${STARTER[d.does]} ${percent(d.chance)}`).join(', ')
}
