import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { ApiError, api, type DescribedView, type QuestionView } from '../src/api/client'
import { useDescription } from '../src/screens/describe/useDescription'

/** A server that asks two questions, the second only of riders. */
function asked(answers: Record<string, string | null>): DescribedView {
  const question = (id: string, choices: string[]): QuestionView => ({
    id,
    asks: `${id}?`,
    choices: choices.map((c) => ({ id: c, says: c })),
    answer: answers[id] ?? choices[0]!,
    seen: !!answers[id],
  })
  const questions = [question('kind', ['rider', 'walk-behind'])]
  if (questions[0]!.answer === 'rider') questions.push(question('seat', ['none', '2']))
  const next = questions.find((q) => !(q.id in answers))?.id ?? null
  return { questions, next, decides: [], missing: [], open: [], document: {} }
}

const settle = () => new Promise((done) => setTimeout(done))
let sent: Record<string, string | null>[] = []

beforeEach(() => {
  sent = []
  sessionStorage.clear()
  vi.spyOn(api, 'describeMachine').mockImplementation((looked) => {
    sent.push(looked.answers ?? {})
    return Promise.resolve(asked(looked.answers ?? {}))
  })
})
afterEach(() => vi.restoreAllMocks())

describe('a machine is described question by question', () => {
  test('what is answered, and what is passed over, is behind; then it is ready', async () => {
    const own = useDescription()
    await settle()
    expect(own.asked.value?.id).toBe('kind')
    await own.answer('rider')
    expect(own.asked.value?.id).toBe('seat')
    await own.answer(null)
    expect(own.asked.value).toBeUndefined()
    expect(own.behind.value.map((q) => [q.id, q.seen])).toEqual([
      ['kind', true],
      ['seat', false],
    ])
  })

  test('back from the end is the last question; an earlier answer may take later ones away', async () => {
    const own = useDescription()
    await settle()
    await own.answer('rider')
    await own.answer('2')
    own.back()
    expect(own.asked.value?.id).toBe('seat')
    own.back()
    expect(own.asked.value?.id).toBe('kind')
    await own.answer('walk-behind')
    expect(own.asked.value).toBeUndefined()
    expect(own.behind.value.map((q) => q.id)).toEqual(['kind'])
  })

  test('answers outlive a reload, and are forgotten when asked', async () => {
    const own = useDescription()
    await settle()
    await own.answer('rider')
    await settle()
    const reloaded = useDescription()
    await settle()
    expect(reloaded.asked.value?.id).toBe('seat')
    await reloaded.forget()
    expect(sent.at(-1)).toEqual({})
    expect(reloaded.asked.value?.id).toBe('kind')
  })

  test('an answer that does not get through is not lost to the next', async () => {
    const own = useDescription()
    await settle()
    vi.mocked(api.describeMachine).mockRejectedValueOnce(new ApiError(0, undefined))
    await own.answer('rider')
    expect(own.trouble.value?.message).toBe('The server does not answer.')
    expect(own.asked.value?.id).toBe('kind')
    await own.answer('rider')
    expect(own.trouble.value).toBeUndefined()
    expect(own.asked.value?.id).toBe('seat')
  })
})
