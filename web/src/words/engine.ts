import type { Engine } from '../api/client'

/** The engine's states, as the station calls them. */
export const ENGINE: { id: Engine; name: string }[] = [
  { id: 'stopped', name: 'stopped' },
  { id: 'cranking', name: 'cranking' },
  { id: 'running', name: 'running' },
  { id: 'running-hot', name: 'hot' },
]
