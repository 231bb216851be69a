import { beforeEach, describe, expect, test, vi } from 'vitest'
import type { useOutbox as UseOutbox } from '../src/api/useOutbox'

/** Loaded anew for each test, as a page that was just opened. */
let useOutbox: typeof UseOutbox
let ApiError: (typeof import('../src/api/client'))['ApiError']

async function openPage() {
  vi.resetModules()
  ;({ ApiError } = await import('../src/api/client'))
  ;({ useOutbox } = await import('../src/api/useOutbox'))
}

interface Note {
  id: string
  says: string
}

/** A server that answers as it is told, and keeps what it was sent. */
function server(...answers: (number | 'ok')[]) {
  const kept: string[] = []
  const post = (note: Note) => {
    const answer = answers.shift() ?? 'ok'
    if (answer === 'ok') {
      kept.push(note.says)
      return Promise.resolve(kept.length)
    }
    return Promise.reject(answer === 0 ? new ApiError(0, undefined) : ApiError.of(answer, 'No.'))
  }
  return { kept, post }
}

beforeEach(async () => {
  vi.unstubAllGlobals()
  localStorage.clear()
  await openPage()
  vi.useFakeTimers()
})

describe('what is recorded', () => {
  test('is sent in the order in which it was made', async () => {
    const { kept, post } = server()
    const recorded = vi.fn()
    const box = useOutbox<Note, number>('job', post, recorded)
    const all = ['one', 'two', 'three'].map((says) => box.record({ says }))
    await expect(Promise.all(all)).resolves.toEqual(Array(3).fill({ kept: true }))
    expect(kept).toEqual(['one', 'two', 'three'])
    expect(recorded.mock.calls.map(([answer]) => answer as number)).toEqual([1, 2, 3])
    expect(box.busy.value).toBe(false)
  })

  test('waits while nobody answers, and those behind it', async () => {
    const { kept, post } = server(0, 503)
    const box = useOutbox<Note, number>('job', post, () => undefined)
    const first = box.record({ says: 'one' })
    const second = box.record({ says: 'two' })
    await vi.advanceTimersByTimeAsync(100)
    expect([kept, box.waiting.value, box.busy.value]).toEqual([[], true, true])
    await vi.advanceTimersByTimeAsync(3100)
    await Promise.all([first, second])
    expect([kept, box.waiting.value]).toEqual([['one', 'two'], false])
  })

  test('stays with why where it is refused, and what follows it goes in', async () => {
    const { kept, post } = server(409, 'ok')
    const box = useOutbox<Note, number>('job', post, () => undefined)
    const refused = await box.record({ says: 'wrong' })
    expect(refused).toMatchObject({ kept: false, problem: { status: 409, message: 'No.' } })
    await box.record({ says: 'right' })
    expect(kept).toEqual(['right'])
    const [left] = box.refused.value
    expect(left).toMatchObject({ entry: { says: 'wrong' }, refused: { status: 409 } })
    box.again(left!.entry.id)
    await vi.advanceTimersByTimeAsync(10)
    expect([kept, box.refused.value]).toEqual([['right', 'wrong'], []])
  })

  test('goes back to whoever typed it where they can mend it there', async () => {
    const { post } = server(422)
    const box = useOutbox<Note, number>('job', post, () => undefined)
    expect(await box.record({ says: 'mistyped' })).toMatchObject({ problem: { status: 422 } })
    expect(box.refused.value).toEqual([])
  })

  test('can be let go of by a person only', async () => {
    const { post } = server(409)
    const box = useOutbox<Note, number>('job', post, () => undefined)
    await box.record({ says: 'closed' })
    expect(box.refused.value).toHaveLength(1)
    box.drop(box.refused.value[0]!.entry.id)
    expect(useOutbox<Note, number>('job', post, () => undefined).refused.value).toEqual([])
  })

  test('outlives the page, under the same id', async () => {
    const lost = server(0)
    const before = useOutbox<Note, number>('job', lost.post, () => undefined)
    void before.record({ says: 'kept' })
    await vi.advanceTimersByTimeAsync(10)
    const [id] = Object.keys(localStorage)
    await openPage()
    const { kept, post } = server()
    const sent: string[] = []
    const after = useOutbox<Note, number>(
      'job',
      (note) => {
        sent.push(`kelvok.unsent.job.${note.id}`)
        return post(note)
      },
      () => undefined,
    )
    expect(after.busy.value).toBe(true)
    await after.resume()
    expect([kept, sent]).toEqual([['kept'], [id]])
  })

  test('is another job’s business where it is another job’s', async () => {
    const { post } = server(409)
    await useOutbox<Note, number>('one', post, () => undefined).record({ says: 'x' })
    expect(useOutbox<Note, number>('two', post, () => undefined).refused.value).toEqual([])
  })

  test('is said to be lost with the page where the device keeps nothing', async () => {
    vi.stubGlobal('localStorage', {
      getItem: () => null,
      removeItem: () => undefined,
      setItem: () => {
        throw new Error('full')
      },
    })
    const { kept, post } = server()
    const box = useOutbox<Note, number>('job', post, () => undefined)
    await box.record({ says: 'fleeting' })
    expect([kept, box.fleeting.value]).toEqual([['fleeting'], true])
  })
})

describe('what lies there and cannot be read', () => {
  test('is shown, holds nothing up, and goes when a person says so', async () => {
    localStorage.setItem('kelvok.unsent.job.0190', '{"entry": {"id"')
    localStorage.setItem('kelvok.unsent.job.0191', '{"entry": {"id": "another"}}')
    const { kept, post } = server()
    const box = useOutbox<Note, number>('job', post, () => undefined)
    expect(box.damaged.value.map((d) => d.key)).toEqual([
      'kelvok.unsent.job.0190',
      'kelvok.unsent.job.0191',
    ])
    await box.record({ says: 'new' })
    expect(kept).toEqual(['new'])
    box.dropDamaged('kelvok.unsent.job.0190')
    expect(box.damaged.value).toHaveLength(1)
  })

  test('of an older Kelvok is taken over, entry by entry', async () => {
    const old = [
      { id: 'a', says: 'first' },
      { id: 'b', says: 'second' },
    ]
    localStorage.setItem('kelvok.unsent.job', JSON.stringify(old))
    const { kept, post } = server()
    await useOutbox<Note, number>('job', post, () => undefined).resume()
    expect([kept, localStorage.getItem('kelvok.unsent.job')]).toEqual([['first', 'second'], null])
  })
})
