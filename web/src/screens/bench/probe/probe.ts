/** A pair in a position, as it is to be probed. */
export interface Probe {
  kind: 'own' | 'probe' | 'identify' | 'hold' | 'let-go'
  position: string
  from: string
  to: string
  /** Whether it should be joined; none where that is what is asked. */
  expected?: boolean | null
  /** The position that it springs back from. */
  sprungFrom?: string | null
  /** What was typed of it last. */
  typed?: string
}
