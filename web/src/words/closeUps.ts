import type { CloseUpEntry, CloseUpView } from '../api/client'
import { capital, lower } from './units'

/** One answer to a look close up. */
export interface CloseUpAnswer {
  label: string
  what: CloseUpEntry
}

/** What a close look found, by whatever the part is called in it. */
export function closeUpWords(what: CloseUpEntry): string {
  switch (what.kind) {
    case 'coil':
      return `${lower(what.part)} ${what.pulls ? 'clicks' : 'doesn’t click'}`
    case 'spark':
      return `${lower(what.part)}: ${{ yes: 'good spark', weak: 'weak spark', no: 'no spark' }[what.spark]}`
    case 'fuel':
      return what.flows ? 'fuel comes' : 'no fuel comes'
    case 'sniff':
      return what.fires ? 'fires on a squirt of fuel' : 'doesn’t fire on a squirt of fuel'
    case 'blows':
      return `${lower(what.fuse)} ${what.blows ? 'blows' : 'holds'}`
  }
}

/** The same entry with the part's name in place of its id. */
export function namedCloseUp(what: CloseUpEntry, name: (id: string) => string): CloseUpEntry {
  if ('part' in what) return { ...what, part: name(what.part) }
  return 'fuse' in what ? { ...what, fuse: name(what.fuse) } : what
}

/** What is looked at, as it stands in a list: "Start relay: does it click?" */
export function closeUpTitle({ entry, name }: CloseUpView): string {
  switch (entry.kind) {
    case 'coil':
      return `${capital(name)}, finger on it: does it click?`
    case 'spark':
      return `Spark at the ${lower(name)}, on a tester`
    case 'fuel':
      return 'Fuel: does it come?'
    case 'sniff':
      return 'A squirt of fuel: does it fire?'
    case 'blows':
      return `${capital(name)}: does it blow or trip?`
  }
}

/** What it can be answered with. */
export function closeUpAnswers({ entry }: CloseUpView): CloseUpAnswer[] {
  const all: [string, CloseUpEntry][] = (() => {
    switch (entry.kind) {
      case 'coil':
        return [
          ['Clicks', { ...entry, pulls: true }],
          ['No click', { ...entry, pulls: false }],
        ]
      case 'spark':
        return [
          ['Good spark', { ...entry, spark: 'yes' }],
          ['Weak spark', { ...entry, spark: 'weak' }],
          ['No spark', { ...entry, spark: 'no' }],
        ]
      case 'fuel':
        return [
          ['Fuel comes', { ...entry, flows: true }],
          ['No fuel', { ...entry, flows: false }],
        ]
      case 'sniff':
        return [
          ['Fires', { ...entry, fires: true }],
          ['Won’t fire', { ...entry, fires: false }],
        ]
      case 'blows':
        return [
          ['Blows', { ...entry, blows: true }],
          ['Holds', { ...entry, blows: false }],
        ]
    }
  })()
  return all.map(([label, what]) => ({ label, what }))
}
