/** What the keys of the job screen do, besides moving its controls. */
export const JOB_KEYS: [string, string][] = [
  ['0 to 9', 'start a reading'],
  ['Enter', 'record it'],
  ['Esc', 'leave the field, let go of the key'],
  ['[ and ]', 'step along the test points'],
  ['o', 'over range (OL)'],
  ['z', 'it beeps'],
  ['n', 'no beep, or nothing from the starter'],
  ['u', 'undo the last entry'],
  ['v', 'bay view: only the card, large'],
  ['?', 'this sheet'],
]

/** What the keys of the switch bench do. */
export const BENCH_KEYS: [string, string][] = [
  ['z', 'it beeps'],
  ['n', 'no beep'],
  ['o', 'over range (OL)'],
  ['0 to 9', 'start a reading in ohms'],
  ['Enter', 'record it'],
  ['Esc', 'leave the field'],
  ['[ and ]', 'step along the table, or the stroke'],
  ['u', 'undo the last entry'],
  ['?', 'this sheet'],
]

/** What the keys of tracing do. */
export const TRACE_KEYS: [string, string][] = [
  ['z', 'it beeps'],
  ['n', 'no beep'],
  ['0 to 9', 'ohms, where the card asks for them'],
  ['o', 'over range (OL)'],
  ['Enter', 'record it'],
  ['u', 'undo the last entry'],
  ['?', 'this sheet'],
]

/** What the keys of editing a drawing do. */
export const EDIT_KEYS: [string, string][] = [
  ['n', 'a new wire'],
  ['u', 'undo the last change'],
  ['r', 'do it again'],
  ['Esc', 'leave the field'],
  ['?', 'this sheet'],
]
