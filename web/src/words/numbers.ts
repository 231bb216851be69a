/** Volts to 0.01; a hair under nothing is nothing. */
export function volts(value: number): string {
  const text = value.toFixed(2)
  return text === '-0.00' ? '0.00' : text
}

/** Amps to 0.1 below 20, then whole. */
export function amps(value: number): string {
  return value.toFixed(Math.abs(value) < 20 ? 1 : 0)
}

/** Ohms to 0.01 below 10, 0.1 below 100, then whole, k and M. */
export function ohms(value: number): string {
  if (value < 10) return value.toFixed(2)
  if (value < 100) return value.toFixed(1)
  if (value < 1000) return value.toFixed(0)
  if (value < 1e6) return `${(value / 1e3).toFixed(1)} k`
  return `${(value / 1e6).toFixed(1)} M`
}

/** The ohms of a length of wire, too few for a meter: in milliohms. */
export function milliohms(value: number): string {
  return `${(value * 1000).toFixed(value < 0.0095 ? 1 : 0)} mΩ`
}

/** A share of one as a whole percentage that never claims certainty. */
export function percent(share: number): string {
  if (share > 0.99 && share < 1) return '99%'
  if (share > 0 && share < 0.01) return '<1%'
  return `${Math.round(share * 100)}%`
}

export function minutes(value: number): string {
  return value < 1 ? 'under 1 min' : `about ${Math.round(value)} min`
}

export function clock(iso: string): string {
  return new Date(iso).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit', hour12: false })
}

/** "Sat, Nov 28, 2026" */
export function dateAndDay(iso: string): string {
  return new Date(iso).toLocaleDateString([], {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    year: 'numeric',
  })
}

export function day(iso: string): string {
  return new Date(iso).toLocaleDateString([], { weekday: 'short', day: 'numeric', month: 'short' })
}
