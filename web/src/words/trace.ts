import type {
  EndView,
  LinkStateCode,
  OffView,
  TraceEntryView,
  TraceFindingView,
} from '../api/client'
import { SAY } from './say'
import { capital, lower } from './units'

/** "Seat switch plug, pin A"; "Main fuse, out"; "Frame, bare metal". */
export function endWords(end: EndView & { metal?: boolean }): string {
  if (end.metal) return `${end.part_name}, bare metal`
  // A clamp's lug is the clamp.
  if (end.plug && end.cavity === 'lug') return capital(end.plug)
  if (end.plug) return `${capital(end.plug)}, pin ${end.cavity}`
  return `${capital(end.part_name)}, ${end.port.terminal}`
}

/** "Main fuse: out of its holder"; "Seat switch plug: unplug". */
export function takeOffWords(off: OffView): string {
  return off.fuse ? `Pull the ${lower(off.name)}` : `Unplug the ${lower(off.name)}`
}

/** What was found that the drawing has otherwise, in a sentence. */
export function findingWords(finding: TraceFindingView): string {
  switch (finding.kind) {
    case 'swapped':
      return `The wires of these two pins are swapped: ${finding.ends.map(endWords).join(' and ')}.`
    case 'joined':
      return `A wire joins ${finding.ends.map(endWords).join(' and ')}. The drawing has none.`
    case 'not-there':
      return `No beep from ${finding.ends.map(endWords).join(' to ')}: the wire is broken, or it goes somewhere else.`
    case 'wired':
      return `${finding.about}: ${finding.way}.`
  }
}

export const LINK_STATE: { [state in LinkStateCode]: string } = {
  traced: SAY.trace.traced,
  'not-there': SAY.trace.notThere,
  doubted: SAY.trace.doubted,
  agrees: SAY.trace.agrees,
  open: SAY.trace.notMeasured,
}

/** What an entry says: "beeps: seat switch plug, pin A to frame, bare metal". */
export function entryWords({ what }: TraceEntryView): string {
  switch (what.kind) {
    case 'color':
      return `${endWords(what.at)}: ${what.color}`
    case 'empty':
      return `${endWords(what.at)}: no wire`
    case 'probe': {
      const { kind, value } = what.reading
      const shows =
        kind === 'buzz'
          ? value
            ? SAY.trace.beeps
            : SAY.trace.noBeep
          : value === null
            ? SAY.trace.over
            : `${value} ${kind === 'drop' ? 'V' : 'ohms'}`
      return `${shows}: ${endWords(what.red)} to ${endWords(what.black)}`
    }
  }
}

/** The colors that wires have, as the trade says them. */
export const WIRE_COLORS = [
  'black',
  'red',
  'white',
  'yellow',
  'green',
  'blue',
  'orange',
  'brown',
  'violet',
  'gray',
  'pink',
  'tan',
]
