import type { Condition, Control } from '../api/client'

/** Where the control of a letter goes next, or went before; none if no control has the letter. */
export function stepControl(
  controls: Control[],
  at: Condition,
  letter: string,
  back: boolean,
): { control: string; position: string } | undefined {
  const control = controls.find((c) => c.letter && c.letter === letter)
  if (!control) return undefined
  const count = control.positions.length
  const now = control.positions.findIndex((p) => p.id === at[control.id])
  const next = control.positions[(now + (back ? count - 1 : 1)) % count]
  return next && { control: control.id, position: next.id }
}
