import type { FaultEffect, PartKind } from '../api/client'
import CODES from './codes.json'

export const PART_KIND: { [kind in PartKind]: string } = CODES.part_kinds

/** What differs from a good machine. */
export const EFFECT: { [effect in FaultEffect]: string } = CODES.effects
