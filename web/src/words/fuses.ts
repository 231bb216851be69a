import type { Control, FusesView } from '../api/client'
import CODES from './codes.json'
import { amps } from './numbers'
import { SAY } from './say'
import { list, lower } from './units'

export type Fuse = FusesView['fuses'][number]
export type FuseWire = FusesView['wires'][number]
type Load = NonNullable<Fuse['carried']['lasting']>

export const FUSE_WORDS: { [word in Fuse['words'][number]]: string } = CODES.fuse_words
export const WIRE_WORDS: { [word in FuseWire['word']]: string } = CODES.wire_words

/** A rating as it is printed on a fuse: "20", "7.5". */
export function rating(value: number): string {
  return String(Math.round(value * 10) / 10)
}

/** What a fuse is taken to be: as read, else as called for. */
export function rated(fuse: Fuse): number | undefined {
  return fuse.read ?? fuse.called_for ?? undefined
}

/** "key run, blades on, engine running": what is not as it is parked. */
export function whenWords(controls: Control[], load: Load): string {
  const moved = controls.flatMap((c) => {
    const at = load.condition[c.id] ?? c.rest
    const name = c.positions.find((p) => p.id === at)?.name ?? at
    return at === c.rest ? [] : [`${lower(c.name)} ${name}`]
  })
  const runs = load.engine === 'stopped' ? [] : [SAY.fuses.engineRunning]
  return list([...moved, ...runs], 'and') || SAY.fuses.parked
}

/** "8.8 A with key run and blades on" */
export function loadWords(controls: Control[], load: Load): string {
  return `${amps(load.amps)} A ${SAY.fuses.with} ${whenWords(controls, load)}`
}

/** "59 A: it blows within 1.0 s" */
export function shortWords(fuse: Fuse): string {
  const { short } = fuse
  if (!short) return ''
  const drawn = `${SAY.fuses.shorted} ${lower(short.wire)}: ${amps(short.amps)} A`
  if (fuse.breaker) return `${drawn}, ${SAY.fuses.breakerTrips}`
  if (!short.blows) return `${drawn}, ${SAY.fuses.mayNotBlow}`
  const { most } = short.blows
  return `${drawn}, ${SAY.fuses.blowsWithin} ${most < 10 ? most.toFixed(1) : most.toFixed(0)} s`
}

/** The fuses that have to be put right, by name. */
export function wrongOnes(view: FusesView): string[] {
  return view.fuses.filter((f) => f.wrong).map((f) => lower(f.name))
}

/** The fuses on which nobody read anything yet. */
export function unread(view: FusesView): Fuse[] {
  return view.fuses.filter((f) => !f.breaker && f.read == null)
}
