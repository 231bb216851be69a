import type { Caution, Danger } from '../api/client'
import CODES from './codes.json'

/** What to mind at a test. */
export const CAUTIONS: { [caution in Caution]: string } = CODES.cautions

/** Why the plan would not ask for something, and what to do about it. */
export const DANGERS: { [danger in Danger]: string } = CODES.dangers
