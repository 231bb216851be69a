import type { Record, RecordAtBench, RecordRelease, RecordSoak, RecordTrace } from '../api/client'
import { closeUpWords } from '../words/closeUps'
import { BATTERY_EVENTS } from '../words/noticed'
import { SAWS } from '../words/release'
import { soakEntry } from '../words/soak'
import { capital } from '../words/units'

/** What a terminal is called. */
export type Named = (terminal: string) => string

/** What an entry says that is not sent yet, short: enough to know it by. */
export function entryWords(
  entry: Record | RecordAtBench | RecordRelease | RecordSoak | RecordTrace,
  named: Named,
): string {
  if ('found' in entry) return found(entry.found)
  if ('entry' in entry) return isSoak(entry.entry) ? soakEntry(entry.entry) : released(entry.entry)
  return 'observed' in entry ? observed(entry.observed, named) : seen(entry.seen)
}

const SOAK = ['began', 'trigger', 'failed', 'paused', 'resumed', 'taken-off', 'ended']

function isSoak(e: RecordRelease['entry'] | RecordSoak['entry']): e is RecordSoak['entry'] {
  return SOAK.includes(e.kind)
}

function found(f: RecordTrace['found']): string {
  switch (f.kind) {
    case 'probe':
      return `${f.typed}: red ${f.red}, black ${f.black}`
    case 'color':
      return `${f.at}: ${f.color}`
    case 'empty':
      return `${f.at}: no wire`
  }
}

function released(e: RecordRelease['entry']): string {
  switch (e.kind) {
    case 'step':
      return `Step tried: ${SAWS[e.saw]}`
    case 'fuse':
      return `Fuse read: ${e.amps} A`
    case 'checked':
      return `Checked: ${e.how}`
    case 'cause':
      return `What killed it: ${e.how}`
    case 'signed':
      return `Signed: ${e.name}`
    case 'returned':
      return `Handed back without a release: ${e.reason}`
  }
}

function observed(o: Record['observed'], named: Named): string {
  switch (o.kind) {
    case 'reading':
      return `${o.typed}: red ${named(o.red)}, black ${named(o.black)}`
    case 'heard':
      return o.heard.replace('-', ' ')
    case 'note':
      return o.text
    case 'engine':
      return `Engine ${o.does.replace('-', ' ')}`
    case 'blades':
      return o.turn ? 'Blades turn' : 'Blades don’t turn'
    case 'lamp':
      return `${o.lamp}: ${o.burns}`
    case 'repaired':
      return `Repaired: ${o.unit}`
    case 'close-up':
      return capital(closeUpWords(o.what))
    case 'arranged':
      return 'Something taken off or jumped'
    case 'put-back':
      return 'Something put back'
    case 'worked-on':
      return `Worked on before: ${o.unit}`
    case 'battery':
      return BATTERY_EVENTS[o.event]
    case 'battery-test':
      return 'Battery tested'
    case 'ran':
      return `Ran ${o.minutes} min`
    case 'looked':
      return o.bad ? 'Looked bad' : 'Looked good'
  }
}

function seen(s: RecordAtBench['seen']): string {
  switch (s.kind) {
    case 'probe':
      return `${s.position}: ${s.from} to ${s.to}, ${s.typed}`
    case 'leads':
      return `Leads: ${s.touching} together, ${s.apart} apart`
    case 'stroke':
      return `${s.from} to ${s.to} at ${s.travel} %`
    case 'wire-moved':
      return `Wire ${s.wire} moved`
    case 'wire-checked':
      return `${s.position}: wire ${s.from} to ${s.to}`
  }
}
