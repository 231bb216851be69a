import type { CauseView } from '../api/client'
import { SAY } from './say'
import { INSTRUMENT, rangeWords } from './tests'
import { lower } from './units'

/** What tells whether a cause is there: "Ohmmeter, clutch + to clutch -. A good one: about 2.9 ohm." */
export function causeTest({ test, good }: CauseView): string {
  if (test?.action.kind !== 'measure') return ''
  const { instrument, red, black } = test.action
  const sound = good ? `. ${SAY.job.aGoodOne} ${lower(rangeWords(good))}` : ''
  return `${INSTRUMENT[instrument]}, ${lower(red.name)} to ${lower(black.name)}${sound}.`
}
