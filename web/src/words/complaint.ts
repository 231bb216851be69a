import type {
  Control,
  Entry,
  Symptom,
  SymptomsView,
  TellingView,
  ToldView,
  UnderstoodView,
  When,
  Work,
} from '../api/client'
import CODES from './codes.json'
import { noticed } from './noticed'
import { heardWords } from './tests'
import { capital, lower, unitName } from './units'

const SYMPTOM: { [symptom in Symptom]: string } = CODES.symptoms

/** What it does; of a machine without blades, what it drives: "PTO shaft drops out". */
export function symptomWords(symptom: Symptom | 'wont-crank', driven: string): string {
  if (symptom === 'wont-crank') return 'Won’t crank'
  const words = SYMPTOM[symptom]
  if (driven === 'blades' || !words.startsWith('Blades ')) return words
  const does = words.slice('Blades '.length).replace(/^drop /, 'drops ')
  return `${capital(driven)} ${does}`
}

/** Symptoms that are one question: the starter does not turn the engine. */
export const WONT_CRANK: Symptom[] = ['dead', 'one-click', 'chatters', 'cranks-slowly']

/** Positions that have words of their own: what a person does, not what a switch does. */
const SAID: { [control: string]: { [position: string]: string } } = {
  seat: { empty: 'When I get off', on: 'When I sit down' },
}

/** When it does that: "When I get off", "Blades on". */
export function whenWords(
  when: When,
  controls: Control[],
  partNames: { [id: string]: string },
): string {
  switch (when.kind) {
    case 'always':
      return 'Any time'
    case 'hot':
      return 'When hot'
    case 'bumps':
      return 'Over bumps'
    case 'fuse':
      return capital(partNames[when.fuse] ?? when.fuse)
    case 'control': {
      const control = controls.find((c) => c.id === when.control)
      const position = control?.positions.find((p) => p.id === when.position)
      const own = SAID[when.control]?.[when.position]
      return own ?? `${control?.name ?? when.control} ${position?.name ?? when.position}`
    }
  }
}

/** What a telling says, a line an entry, what still works first. */
export function tellingLines(telling: TellingView, controls: Control[]): string[] {
  return telling.entries.map((entry) => {
    const seen = entry.observation
    const what =
      seen.kind === 'heard'
        ? heardWords(seen.heard)
        : seen.kind === 'reading'
          ? ''
          : seen.kind === 'looked'
            ? 'fuse blown'
            : noticed(seen)
    const set = controls
      .filter((c) => entry.condition[c.id] !== undefined)
      .map((c) => {
        const at = c.positions.find((p) => p.id === entry.condition[c.id])
        return `${lower(c.name)} ${at?.name ?? entry.condition[c.id]}`
      })
    const often = entry.at_times ? ', off and on' : ''
    const hot = entry.engine === 'running-hot' ? ', hot' : ''
    return `${capital(what)}${often}${hot}: ${set.join(', ')}`
  })
}

/** A symptom with when: "Dies: when I get off". */
export function toldWords(told: ToldView, menu: SymptomsView): string {
  const own = symptomWords(told.symptom, menu.driven)
  const of = menu.symptoms.find((s) => s.symptom === told.symptom)
  return (of?.tellings.length ?? 0) > 1
    ? `${own}: ${lower(whenWords(told.when, menu.controls, menu.part_names))}`
    : own
}

const DONE: { [work in Work]: string } = {
  replaced: 'Replaced before',
  jumped: 'Jumped before',
  cut: 'Cut or spliced before',
  'fuse-changed': 'Fuse changed before',
}

/** What else was understood of a sentence, each with what goes into the log. */
export function readChips(read: UnderstoodView): {
  says: string
  entry?: Entry
  often?: boolean
}[] {
  const often = read.times_an_hour
    ? [{ says: `Off and on, about ${read.times_an_hour} times an hour`, often: true }]
    : read.at_times
      ? [{ says: 'Off and on', often: true }]
      : []
  return [
    ...often,
    ...(read.since ? [{ says: `Since: ${read.since}` }] : []),
    ...read.works.map((entry) => ({ says: 'Lights work', entry })),
    ...read.worked_on.map((w) => ({
      says: `${DONE[w.work]}: ${unitName(w.unit)}`,
      entry: w.entry,
    })),
  ]
}
