import type {
  AnswerView,
  Condition,
  Control,
  Engine,
  Heard,
  Instrument,
  SetUpView,
  TestView,
} from '../api/client'
import { ENGINE } from './engine'
import { ohms, volts } from './numbers'
import { capital, list, lower, unitName } from './units'

export const HEARD: { heard: Heard; label: string; said: string }[] = [
  { heard: 'silent', label: 'Nothing', said: 'nothing, no click' },
  { heard: 'click', label: 'One click', said: 'one click' },
  { heard: 'chatter', label: 'Clicks and clicks', said: 'clicks and clicks' },
  { heard: 'cranks-slowly', label: 'Cranks slow', said: 'cranks slow' },
  { heard: 'cranks', label: 'Cranks', said: 'cranks' },
]

export function heardWords(heard: Heard): string {
  return HEARD.find((h) => h.heard === heard)?.said ?? heard
}

export const DIAL: { [instrument in Instrument]: string } = {
  voltmeter: 'Dial: DC volts.',
  ohmmeter: 'Dial: ohms, leads zeroed.',
  buzzer: 'Dial: continuity, with the beep.',
  'test-lamp': 'Test lamp, 12 V filament, its clip on black.',
  'led-lamp': 'LED test lamp: lights through a bad joint too.',
  'ac-voltmeter': 'Dial: AC volts.',
  'diode-range': 'Dial: diode range.',
  clamp: 'DC clamp, zeroed, around that wire alone.',
}

/** What else in the box reads the same, for whoever has that in the hand. */
export const OTHER: { [instrument in Instrument]?: Instrument } = {
  voltmeter: 'test-lamp',
  'test-lamp': 'voltmeter',
  ohmmeter: 'buzzer',
  buzzer: 'ohmmeter',
}

/** What an instrument is called on its own. */
export const INSTRUMENT: { [instrument in Instrument]: string } = {
  voltmeter: 'Voltmeter',
  ohmmeter: 'Ohmmeter',
  buzzer: 'Continuity, beep',
  'test-lamp': 'Test lamp, filament',
  'led-lamp': 'Test lamp, LED',
  'ac-voltmeter': 'AC volts',
  'diode-range': 'Diode range',
  clamp: 'Clamp, DC amps',
}

export const UNIT: { [instrument in Instrument]: string } = {
  voltmeter: 'volts',
  ohmmeter: 'ohms',
  buzzer: 'beep?',
  'test-lamp': 'lamp',
  'led-lamp': 'lamp',
  'ac-voltmeter': 'volts AC',
  'diode-range': 'volts or OL',
  clamp: 'amps',
}

/** The condition in words, controls that stand at rest left out where that is clear. */
export function conditionWords(
  controls: Control[],
  condition: Condition,
  engine: Engine = 'stopped',
  idle = false,
): string {
  const stand = controls
    .map((c) => {
      const at = condition[c.id] ?? c.rest
      const name = c.positions.find((p) => p.id === at)?.name ?? at
      return `${c.name.toLowerCase()} ${name}`
    })
    .join(', ')
  const turns = ENGINE.find((e) => e.id === engine)?.name ?? engine
  return engine === 'stopped' ? stand : `${stand}, engine ${turns}${idle ? ' at idle' : ''}`
}

/** A set-up on its own, as it is chosen from a list: "Pedal switch pressed by hand". */
export function setUpTitle(setUp: SetUpView): string {
  const name = capital(setUp.name)
  switch (setUp.entry.kind) {
    case 'unplugged':
      return `${name} off`
    case 'pressed-by-hand':
      return `${name} pressed by hand`
    case 'freed-by-hand':
      return `${name} let out by hand`
    case 'shaken':
      return `Harness shaken ${lower(setUp.name)}`
    case 'lamp-in-place':
      return `21 W lamp in place at the ${lower(setUp.name)}`
    case 'battery-off':
      return 'Battery negative clamp off'
    case 'wire-off':
      return `${name} off`
    case 'jumper':
      return name
  }
}

/** What to do to the machine first: "Key off. Unplug the pedal switch plug, press the plunger by hand." */
export function setUpWords(setUp: SetUpView[]): string {
  const name = (s: SetUpView) => lower(s.name)
  // Its own plug is named just before.
  const its = (s: SetUpView) => {
    const bared = setUp.some((o) => o.entry.kind === 'unplugged' && name(o).startsWith(name(s)))
    return bared ? 'its' : `the ${name(s)}’s`
  }
  // The battery's clamp comes off before anything else.
  const off = (s: SetUpView) => s.entry.kind === 'battery-off'
  const steps = [...setUp.filter(off), ...setUp.filter((s) => !off(s))].map((s) => {
    switch (s.entry.kind) {
      case 'unplugged':
        return `unplug the ${name(s)}`
      case 'pressed-by-hand':
        return `press ${its(s)} plunger by hand`
      case 'freed-by-hand':
        return `take ${its(s)} linkage off the plunger`
      case 'shaken':
        return `shake and pull the harness ${name(s)} while you look`
      case 'lamp-in-place':
        return `unplug the ${name(s)} and hang a 21 W lamp from its feed pin to ground`
      case 'battery-off':
        return 'take the battery negative clamp off'
      case 'wire-off':
        return `take the ${name(s)} off`
      case 'jumper':
        return `put on the ${name(s)}`
    }
  })
  return steps.length === 0 ? '' : `${capital(list(steps, 'and'))}.`
}

/** Controls that must be moved from where they stand. */
export function moves(controls: Control[], now: Condition, wanted: Condition): string[] {
  return controls
    .filter((c) => (now[c.id] ?? c.rest) !== (wanted[c.id] ?? c.rest))
    .map((c) => {
      const at = c.positions.find((p) => p.id === (wanted[c.id] ?? c.rest))
      return `${c.name} ${at?.name ?? ''}`.trim()
    })
}

/** Positions that a person brings about, and how that is said. */
const DONE: { [control: string]: { [position: string]: string } } = {
  seat: { empty: 'get up', on: 'sit down' },
}

/** The move from one condition to the next, with the engine running: "Now get up." */
export function moveWords(controls: Control[], from: Condition, to: Condition): string {
  const moved = controls
    .filter((c) => (from[c.id] ?? c.rest) !== (to[c.id] ?? c.rest))
    .map((c) => {
      const at = to[c.id] ?? c.rest
      const name = c.positions.find((p) => p.id === at)?.name ?? at
      return DONE[c.id]?.[at] ?? `set ${lower(c.name)} to ${name.toUpperCase()}`
    })
  return moved.length ? `Now ${list(moved, 'and')}.` : ''
}

export function rangeWords(range: AnswerView['range']): string {
  switch (range.kind) {
    case 'volts': {
      const { low, high } = range
      return high - low < 0.3
        ? `About ${volts((low + high) / 2)} V`
        : `${volts(low)} to ${volts(high)} V`
    }
    case 'ohms': {
      const { low, high } = range
      if (high < 0.35) return 'Under 0.5 ohm'
      return high < 1.1 * low
        ? `About ${ohms((low + high) / 2)} ohm`
        : `${ohms(low)} to ${ohms(high)} ohm`
    }
    case 'buzz':
      return range.on ? 'Beeps' : 'No beep'
    case 'lit':
      return range.on ? 'Lit' : 'Dark'
    case 'over-range':
      return 'OL'
    case 'lamp':
      return capital(range.burns)
    case 'ac-volts':
      return `About ${Math.round((range.low + range.high) / 2)} V AC`
    case 'amps':
      return `About ${Math.round((range.low + range.high) / 2)} A`
    case 'drop':
      return `About ${volts((range.low + range.high) / 2)} V`
    default:
      return ''
  }
}

/** What an answer leaves: the units that then hold most. */
export function leavesWords(answer: AnswerView): string {
  const kept = answer.leaves.filter((l, i) => i < 3 && l.probability > 0.08)
  return list(
    kept.map((l) => unitName(l.unit)),
    'or',
  )
}

/** What must go before a test that needs the engine turning. */
export const ENGINE_FIRST: { [engine in Engine]: string } = {
  stopped: '',
  cranking: 'Let it crank for up to five seconds.',
  running: 'Engine running.',
  'running-hot': 'Engine running and hot.',
}

/** One line on why this test. */
export function whyWords(test: TestView): string {
  if (test.why === 'recheck') return 'after the repair: does the rest work?'
  if (test.why === 'reproduce') return 'see it happen first'
  if (test.why === 'again') return 'repeat this one; the answer depends on it'
  if (test.why === 'confirms') return 'to be sure, another way'
  const [first, second] = test.answers
  if (!first || !second) return 'won’t tell you much'
  const share = Math.round(Math.max(first.probability, 0.01) * 100)
  if (first.leaves[0]?.unit.kind === 'nothing') return `${share} % chance nothing is wrong now`
  return `${share} % chance this points to the ${leavesWords(first)}`
}
