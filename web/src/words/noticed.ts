import type {
  EvidenceView,
  Attend,
  BatteryEvent,
  Engine,
  Heard,
  Observed,
  Outcome,
  Repair,
  TestView,
} from '../api/client'
import CODES from './codes.json'
import { HEARD } from './tests'
import { closeUpWords } from './closeUps'
import { capital, list, lower } from './units'

/** Something that can be said of what the machine does. */
export interface Said {
  label: string
  observed: Observed
}

type Does = Extract<Observed, { kind: 'engine' }>['does']

const ENGINE_DOES: { [does in Does]: { fires: string; runs: string; said: string } } = {
  runs: { fires: 'Fires up', runs: 'Keeps running', said: 'engine keeps running' },
  'runs-rough': { fires: 'Fires, runs rough', runs: 'Runs rough', said: 'engine runs rough' },
  stops: { fires: 'Won’t fire', runs: 'Dies', said: 'engine dies' },
}

/** How a lamp burns. */
export const LAMP_BURNS = (['bright', 'dim', 'out'] as const).map((burns) => ({
  burns,
  label: capital(burns),
}))

const starter: Said[] = HEARD.map((h: { heard: Heard; label: string }) => ({
  label: h.label,
  observed: { kind: 'heard', heard: h.heard },
}))

function engine(state: Engine): Said[] {
  const cranking = state === 'cranking'
  return (['runs', 'runs-rough', 'stops'] as const).map((does) => ({
    label: cranking ? ENGINE_DOES[does].fires : ENGINE_DOES[does].runs,
    observed: { kind: 'engine', does },
  }))
}

function blades(state: Engine): Said[] {
  const turning = state === 'running' || state === 'running-hot'
  return [true, false].map((turn) => ({
    label: turning
      ? turn
        ? 'Blades turn'
        : 'Blades don’t turn'
      : turn
        ? 'Clutch snaps in'
        : 'No snap from the clutch',
    observed: { kind: 'blades', turn },
  }))
}

/** What can be said of the machine with its engine in a state. */
export function sayings(state: Engine, starts: boolean, clutch: boolean): Said[] {
  const own = state === 'stopped' ? (starts ? starter : []) : engine(state)
  return clutch ? [...own, ...blades(state)] : own
}

/** The question, and what it can be answered with, of a test that is no measurement. */
export function question(test: TestView): { ask: string; answers: Said[] } | undefined {
  const { action } = test
  if (action.kind === 'measure') return undefined
  if (action.kind === 'look') {
    const { at } = action
    return {
      ask: LOOK[at.kind].replace('#', action.name),
      answers: [true, false].map((bad) => ({
        label: bad ? 'Looks bad' : 'Looks good',
        observed: { kind: 'looked', at, bad },
      })),
    }
  }
  const { lamp } = action
  const by: { [attend in Attend]: () => { ask: string; answers: Said[] } } = {
    starter: () => ({
      ask: 'Hold the key there for two seconds and listen to the starter.',
      answers: starter,
    }),
    engine: () => ({
      ask:
        test.engine === 'cranking' ? 'Crank it. Does it fire up?' : 'Does the engine keep running?',
      answers: engine(test.engine),
    }),
    blades: () => ({
      ask: test.engine === 'running' ? 'Do the blades turn?' : 'Does the electric clutch snap in?',
      answers: blades(test.engine),
    }),
    lamp: () => ({
      ask: `Watch the ${lower(lamp?.name ?? 'lamp')}: bright, dim or out?`,
      answers: LAMP_BURNS.map(({ burns, label }) => ({
        label,
        observed: { kind: 'lamp', lamp: lamp?.id ?? '', burns },
      })),
    }),
  }
  return by[action.attend]()
}

const LOOK = {
  plug: 'Check the #: loose, wet, burnt, a pin pushed back?',
  fuse: 'Check the #: blown, or the wrong size?',
  linkage:
    'Work it and watch the plunger of the #: does it go all the way in, and all the way out?',
  lug: 'Check the #: loose, corroded?',
  wire: 'Follow the #: cut, rubbed through, crushed?',
} as const

/** What to look for, in a row of its own name. */
export const LOOK_FOR = {
  plug: 'loose, wet, burnt, a pin pushed back',
  fuse: 'blown, wrong size',
  linkage: 'plunger not all the way in, or out',
  lug: 'loose, corroded',
  wire: 'cut, rubbed through, crushed',
} as const

const WORKED = {
  replaced: 'was replaced earlier',
  jumped: 'was jumped earlier',
  cut: 'was cut or spliced earlier',
  'fuse-changed': 'had its fuse changed earlier',
} as const

/** What was done to put something right. */
export const REPAIRS: { [how in Repair]: string } = CODES.repairs

/** What became of the battery. */
export const BATTERY_EVENTS: { [event in BatteryEvent]: string } = CODES.battery_events

/** What a good machine does, as an operator sees it: of a running engine, whether it goes on. */
export function shouldDo(should: Outcome, engine: Engine, hasStarter: boolean): string {
  const { crank, spark, clutch, fuel } = should
  const killed = spark.length > 0 && spark.every((s) => s === 'killed')
  const does: string[] = []
  if (engine.startsWith('running')) {
    does.push(killed || fuel === false ? 'engine shuts off' : 'engine keeps running')
    if (clutch === 'engaged') does.push('blades turn')
    return list(does, 'and')
  }
  const starter: { [crank: string]: string } = { yes: 'cranks', no: 'won’t crank' }
  if (hasStarter) does.push(starter[crank] ?? crank)
  if (clutch === 'engaged') does.push('blades turn')
  if (killed) does.push('engine shuts off')
  return does.length ? list(does, 'and') : 'engine can run'
}

/** What can stand in the log; readings, and what is off or back, are said with a machine's own names. */
export type Noticed = Observed | Extract<EvidenceView['entry']['observation'], { kind: 'benched' }>

/** What was noticed, in words. */
export function noticed(seen: Noticed): string {
  switch (seen.kind) {
    case 'engine':
      return ENGINE_DOES[seen.does].said
    case 'blades':
      return seen.turn ? 'blades turn' : 'blades don’t turn'
    case 'lamp':
      return `${seen.lamp} ${seen.burns}`
    case 'looked':
      return `${Object.entries(seen.at)
        .filter(([key]) => key !== 'kind')
        .map(([, name]) => String(name))
        .join('')} looks ${seen.bad ? 'bad' : 'good'}`
    case 'repaired':
      return `${seen.unit}: ${(seen.how ? REPAIRS[seen.how] : 'repaired').toLowerCase()}${seen.note ? `. ${seen.note}` : ''}`
    case 'benched':
      return `${seen.unit}: ${seen.bad ? 'bad' : 'good'} on the switch bench`
    case 'close-up':
      return closeUpWords(seen.what)
    case 'worked-on':
      return `${seen.unit} ${WORKED[seen.work]}`
    case 'ran':
      return `ran ${seen.minutes} minutes with no trouble`
    case 'battery':
      return BATTERY_EVENTS[seen.event].toLowerCase()
    case 'battery-test':
      return 'battery tested'
    case 'note':
      return seen.text
    default:
      return ''
  }
}
