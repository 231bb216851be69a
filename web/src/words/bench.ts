import type {
  BenchView,
  CellView,
  Consequence,
  FindingView,
  Ignition,
  LinkageVerdict,
  OperatedView,
  PoleView,
  Subject,
  SwitchFunction,
  SwitchKind,
  SwitchVerdict,
  Unfit,
} from '../api/client'
import CODES from './codes.json'
import { ohms } from './numbers'
import { list } from './units'

export const KIND: { [kind in SwitchKind]: string } = {
  'key-switch': 'Key switch',
  'interlock-switch': 'Interlock switch',
  'pto-switch': 'PTO switch',
  relay: 'Relay',
}

/** The positions of a kind of which nothing else is known. */
export const POSITIONS: { [kind in SwitchKind]: Subject['positions'] } = {
  'key-switch': [
    { id: 'off', name: 'off' },
    { id: 'run', name: 'run' },
    { id: 'start', name: 'start', returns_to: 'run' },
  ],
  'interlock-switch': [
    { id: 'released', name: 'released' },
    { id: 'pressed', name: 'pressed', returns_to: 'released' },
  ],
  'pto-switch': [
    { id: 'off', name: 'off' },
    { id: 'on', name: 'on' },
  ],
  relay: [
    { id: 'rest', name: 'rest' },
    { id: 'energized', name: 'energized', returns_to: 'rest' },
  ],
}

export const FUNCTION: { [f in SwitchFunction]: string } = CODES.switch_functions

/** How the wire of a terminal is told on the machine, where the switch does not tell. */
export const AT_MACHINE: { [f in SwitchFunction]?: string } = {
  supply: 'its wire has battery volts with the key off',
  ground: 'its wire reads under 0.5 Ω to bare frame',
  kill: 'its wire goes to the ignition module: module unplugged, it is open to frame',
  accessory: 'its wire is dead with the plug off',
  regulator: 'its wire goes to the regulator',
}

export const CONSEQUENCE: { [c in Consequence]: string } = {
  'never-stops': 'the engine never stops by the key',
  'silent-at-start': 'nothing at START',
  'cranks-unasked': 'the starter runs on, or cranks by itself',
  'no-spark': 'no spark there: it dies',
  'battery-on-kill-wire': 'battery volts on the kill wire destroy the ignition module',
  'battery-shorted': 'the battery is shorted: the fuse blows',
  'runs-on': 'ignition or fuel stays fed with the key off: it runs on',
  'dies-in-run': 'dies as the key springs back to run',
  'no-fire-in-start': 'does not fire while it cranks',
  'no-charge': 'no charge',
  'accessories-dead': 'accessories and clutch dead',
  'lights-dead': 'headlights dead',
  'lights-stay-on': 'lights stay on',
  'glow-plugs-cold': 'glow plugs stay cold',
  'glow-plugs-stay-on': 'glow plugs stay on',
  'starter-starved': 'a load stays on while it cranks: starter starved',
  'drains-battery': 'drains the battery with the key off',
  'reverse-not-watched': 'mowing in reverse is not stopped',
  'never-makes': 'the contact does not make',
  'never-breaks': 'the contact does not break',
  'drops-under-load': 'loses volts under load and gets hot; a voltage drop test decides',
}

export const VERDICT: { [v in SwitchVerdict]: string } = {
  unfinished: 'Not finished',
  sound: 'Good',
  bad: 'Bad',
  'kind-unknown': 'Type not known',
}

export const LINKAGE: { [v in LinkageVerdict]: string } = {
  'not-tried': 'Linkage not tried.',
  'switch-first':
    'Test the switch by hand first: until it changes there, nothing tells of the linkage.',
  'half-tried': 'Right so far; try the other position too.',
  works: 'The linkage works the switch both ways.',
  'does-not-reach':
    'The switch is right by hand, but the machine does not press it: the linkage does not reach.',
  'does-not-let-go':
    'The switch is right by hand, but the machine does not let it out: the linkage holds it.',
  'at-times': 'The linkage works it at some times only.',
}

/** A linkage that is at fault, for the head of the page. */
export const LINKAGE_BAD: { [v in LinkageVerdict]?: string } = {
  'does-not-reach': 'linkage does not reach',
  'does-not-let-go': 'linkage does not let go',
  'at-times': 'linkage at times only',
}

const IGNITION: { [i in Ignition]: string } = {
  magneto: 'a magneto',
  'battery-coil': 'a battery coil or fuel solenoid',
}

export const LEADS: { [v in NonNullable<BenchView['leads']>['verdict']]: string } = {
  good: '',
  'too-high':
    'Over an ohm with the probes touching: clean the tips, try other leads, look at the meter’s battery. It hides a worn contact.',
  broken:
    'Over range with the probes touching: a lead is open, or in the wrong socket. Nothing it says counts until that is mended.',
  'not-open':
    'A figure with the probes apart: wrong range, or something lies between them. An open pair would look closed.',
}

/** What it means that a switch is for another ignition than its machine has. */
export function wrongIgnition(view: BenchView): string {
  const machine = view.machine?.ignition
  const [own, ...others] = view.ignitions
  if (!machine || !own || others.length || own === machine) return ''
  return unfitWords({ kind: 'wrong-ignition', part: own, machine })
}

export const IGNITION_TYPE: { [i in Ignition]: string } = {
  magneto: 'For a magneto: grounds the kill wire to stop.',
  'battery-coil': 'For a battery coil or fuel solenoid: feeds it to run.',
}

export function positionName(subject: Subject, id: string): string {
  return subject.positions.find((p) => p.id === id)?.name ?? id
}

/** "B – S" */
export function pair(one: string, other: string): string {
  return `${one} – ${other}`
}

/** What to do with the switch to have it in a position. */
export function moveWords(subject: Subject, id: string): string {
  const name = positionName(subject, id)
  switch (subject.kind) {
    case 'key-switch':
      return `Turn to ${name}`
    case 'pto-switch':
      return `Set to ${name}`
    case 'relay':
      return id === 'energized' ? '12 V on its coil' : 'Coil off'
    default:
      if (id === 'pressed') return 'Press it right in'
      return id === 'released' ? 'Let it out' : `Set to ${name}`
  }
}

/** What to do with the switch to keep it where it is. */
export function stayWords(subject: Subject, id: string): string {
  const name = positionName(subject, id)
  if (subject.kind === 'interlock-switch' || subject.kind === 'relay') return `Leave it ${name}`
  return `Leave it in ${name}`
}

/** What was found in a cell, in a word or two. */
export function foundWords(cell: CellView): string {
  if (cell.hung > 0 && cell.expected === false) return `hung ${cell.hung} of ${cell.let_go}`
  const found = cell.found
  if (!found) return cell.follows == null ? '' : cell.follows ? 'closed' : 'open'
  switch (found.kind) {
    case 'made':
      return 'closed'
    case 'open':
      return 'open'
    case 'at-times':
      return `${found.made} of ${found.of} closed`
    default:
      return `${ohms(found.ohms)} Ω`
  }
}

/** "M – G open in off, should be closed" */
export function findingWords(f: FindingView, subject: Subject): string {
  const where = `${pair(f.one, f.other)} in ${positionName(subject, f.position)}`
  switch (f.what.kind) {
    case 'missing':
      return `${where}: open, should be closed`
    case 'extra':
      return `${where}: closed, should be open`
    case 'misses':
      return `${where}: closed ${f.what.made} of ${f.what.of} times`
    case 'hangs-up':
      return `${where}: still closed ${f.what.hung} of ${f.what.of} times after it sprang back`
    case 'at-times':
      return `${where}: closed ${f.what.made} of ${f.what.of} times, should never be`
    case 'worn':
      return `${where}: closed through ${ohms(f.what.ohms)} Ω, worn or dirty`
    case 'through':
      return `${where}: ${ohms(f.what.ohms)} Ω, neither closed nor open`
    case 'dead-spot':
      return `${pair(f.one, f.other)}: dead spot at ${Math.round(f.what.from)} to ${Math.round(f.what.to)}% of its travel`
  }
}

/** What comes of a finding, as the functions of its terminals have it. */
export function becauseWords(f: FindingView): string {
  const now = ['misses', 'hangs-up', 'at-times', 'dead-spot'].includes(f.what.kind)
  const said = list(
    f.consequences.map((c) => CONSEQUENCE[c]),
    'and',
  )
  return said && now ? `now and then: ${said}` : said
}

/** What so many operations were worth. */
export function operatedWords(o: OperatedView, subject: Subject): string {
  const what = `${pair(o.one, o.other)} operated ${o.times} ${o.times === 1 ? 'time' : 'times'}`
  const at = positionName(subject, o.held)
  if (o.below == null) {
    const misses = o.missed ? `missed ${o.missed} in ${at}` : ''
    const hung = o.hung ? `hung up ${o.hung}` : ''
    return `${what}: ${list([misses, hung].filter(Boolean), 'and')}.`
  }
  if (o.times === 0) return `${pair(o.one, o.other)} not operated yet.`
  return `${what} without a miss: with 95% confidence it fails less than ${Math.ceil(o.below * 100)} times in 100.`
}

const POLE: { [kind in PoleView['kind']]: string } = {
  'normally-open': 'normally open',
  'normally-closed': 'normally closed',
  changeover: 'changeover',
  'always-made': 'closed either way',
  other: 'joined in more than one way',
}

export function poleWords(pole: PoleView): string {
  return `${pole.terminals.join(' – ')}: ${POLE[pole.kind]}`
}

/** Why a new part is not to be fitted, or not yet. */
export function unfitWords(u: Unfit): string {
  switch (u.kind) {
    case 'wrong-ignition':
      return `This one is for ${IGNITION[u.part]}, the machine has ${IGNITION[u.machine]}. Do not fit it: it destroys the module, or never stops the engine.`
    case 'terminals':
      return `It has ${u.has} terminals; the machine wants ${u.wants}.`
    case 'bad':
      return 'It is bad, new or not.'
    case 'untested':
      return 'Not everything is tried yet.'
    case 'other-table':
      return 'It does not do what the machine wants, whichever way it is wired.'
    case 'wires-to-move':
      return `${u.wires} ${u.wires === 1 ? 'wire' : 'wires'} to move in the plug first.`
    case 'rating':
      return `Its contacts are rated ${u.has} A; the old one’s ${u.wants} A.`
    case 'rating-unknown':
      return 'Nothing says what its contacts are rated for: read it off the part.'
  }
}

/** What came of a switch, for a job's story. */
export function resultNote(view: BenchView): string {
  const findings = view.findings.map((f) => {
    const because = becauseWords(f)
    return because ? `${findingWords(f, view.subject)} (${because})` : findingWords(f, view.subject)
  })
  const switchSays = findings.length
    ? `bad. ${findings.join('; ')}.`
    : view.verdict === 'sound'
      ? 'good.'
      : 'not finished.'
  const operated = view.operated.map((o) => operatedWords(o, view.subject)).join(' ')
  const linkage = view.linkage === 'not-tried' ? '' : LINKAGE[view.linkage]
  const what = view.new_part
    ? `${view.name}, a new part, on the bench`
    : `${view.name} on the bench`
  return [`${what}: ${switchSays}`, operated, linkage].filter(Boolean).join(' ').slice(0, 1900)
}
