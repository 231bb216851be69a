import type { Condition, Control, DutyView } from '../api/client'

const SHALL: { [shall in DutyView['shall']]: string } = {
  'not-crank': 'must not crank',
  'stop-engine': 'the engine must stop',
  'stop-blades': 'the blades must stop',
  'stop-engine-or-blades': 'engine or blades must stop',
  'not-restart-blades': 'the blades must not start again by themselves',
  start: 'must start',
  'keep-running': 'must keep running',
}

/** "engine or blades shall stop within 5 s" */
export function shallWords(duty: DutyView): string {
  return SHALL[duty.shall] + (duty.within == null ? '' : ` within ${duty.within}\u00a0s`)
}

/** "key run, seat empty": where controls stand that are not at rest. */
export function standWords(controls: Control[], set: Condition): string {
  const moved = controls.filter((c) => set[c.id] !== undefined && set[c.id] !== c.rest)
  const words = moved.map((c) => {
    const at = c.positions.find((p) => p.id === set[c.id])
    return `${c.name.toLowerCase()} ${at?.name ?? set[c.id]}`
  })
  return words.join(', ') || 'all controls as parked'
}
