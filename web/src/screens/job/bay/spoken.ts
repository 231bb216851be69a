import type { Control, TestView } from '../../../api/client'
import { CAUTIONS } from '../../../words/cautions'
import { question } from '../../../words/noticed'
import { conditionWords, setUpWords } from '../../../words/tests'
import { backWords } from '../../../words/temporary'
import type { Target } from '../test/useTarget'

/** What a card says, to be read aloud. */
export function spoken(
  target: Target | undefined,
  tried: TestView | undefined,
  controls: Control[],
): string {
  const putBack = target?.putBack ?? tried?.put_back ?? []
  if (putBack.length) return `Put it back first. ${putBack.map(backWords).join('. ')}.`
  const cautions = (target?.cautions ?? tried?.cautions ?? []).map((c) => CAUTIONS[c])
  if (target) {
    const set = conditionWords(controls, target.condition, target.engine)
    const first = setUpWords(target.setUp)
    return [
      ...cautions,
      `${set}.`,
      first,
      `Red on ${target.red.name}. Black on ${target.black.name}.`,
    ]
      .filter(Boolean)
      .join(' ')
  }
  if (!tried) return ''
  const set = conditionWords(controls, tried.condition, tried.engine)
  return [...cautions, `${set}.`, question(tried)?.ask ?? ''].join(' ')
}
