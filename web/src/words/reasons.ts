import type {
  ContactView,
  ElementView,
  MachineDetail,
  ReasonView,
  SnapshotView,
} from '../api/client'
import { list, lower } from './units'

/** "pedal down", as the operator would say it; of a gate no control works, its name. */
export function gateWords(gate: Pick<ContactView | ElementView, 'gate' | 'name'>): string {
  if (!gate.gate) return lower(gate.name)
  return `${lower(gate.gate.control_name)} ${gate.gate.position_name}`
}

const ways = (reason: ReasonView) =>
  list(
    reason.ways.map((way) => list(way.map(gateWords), 'and')).filter((w) => w),
    'or',
  )

/** Why it does not, in a few words. */
export function reasonWords(reason: ReasonView): string {
  const what = reason.what ? lower(reason.what.split(',')[0] ?? '') : ''
  switch (reason.kind) {
    case 'grounded':
      return `kill wire grounded by ${ways(reason) || 'a straight wire'}`
    case 'not-grounded':
      return `the ${what} fires only grounded: needs ${ways(reason)}`
    case 'unfed':
      return `no power to the ${what}: needs ${ways(reason)}`
    case 'stop-fed':
      return `the ${what} has power`
    default:
      return 'stopped by hand'
  }
}

/** Every reason once: two modules stopped by one wire are one reason. */
export function reasonsWords(reasons: ReasonView[]): string {
  return [...new Set(reasons.map(reasonWords))].join('; ')
}

/** A line of what the machine does, and why not where it does not. */
export interface DoesLine {
  does: boolean
  says: string
  why: string
}

export function doesLines(snapshot: SnapshotView, machine: MachineDetail): DoesLine[] {
  const { driven, recoil } = machine
  const [turn, not] = driven.endsWith('s') ? ['turn', 'do not turn'] : ['turns', 'does not turn']
  const line = (does: boolean, yes: string, no: string, why: ReasonView[]) => ({
    does,
    says: does ? yes : no,
    why: does ? '' : reasonsWords(why),
  })
  const { cranks, runs, blades } = snapshot
  const lines = [
    line(runs, 'A running engine keeps running', 'A running engine stops', snapshot.stops),
    line(blades, `The ${driven} ${turn}`, `The ${driven} ${not}`, runs ? snapshot.no_blades : []),
  ]
  return recoil ? lines : [line(cranks, 'Cranks', 'Does not crank', snapshot.no_crank), ...lines]
}
