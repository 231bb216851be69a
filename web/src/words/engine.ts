import type { Engine } from '../api/client'

/** The engine's states, as the station calls them. */
export const ENGINE: { id: Engine; name: string }[] = [
  { id: 'stopped', name: 'stopped' },
  { id: 'cranking', name: 'cranking' },
  { id: 'running', name: 'running' },
  { id: 'running-hot', name: 'hot' },
]

/** The same of a machine that may be started by a rope. */
export const engineStates = (rope: boolean) =>
  ENGINE.map((e) => (rope && e.id === 'cranking' ? { ...e, name: 'being pulled' } : e))
