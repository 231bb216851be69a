import type { Saw } from '../api/client'
import CODES from './codes.json'

/** What was seen at a step, as it is said. */
export const SAWS: { [saw in Saw]: string } = CODES.saws
