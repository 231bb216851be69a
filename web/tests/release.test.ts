import { afterEach, beforeEach, expect, describe, test, vi } from 'vitest'
import {
  ApiError,
  api,
  type JobView,
  type RecordRelease,
  type ReleaseStep,
  type ReleaseView,
} from '../src/api/client'
import { useRelease } from '../src/screens/release/useRelease'
import { useStopwatch } from '../src/screens/release/useStopwatch'

vi.mock('vue', async (real) => ({
  ...(await real<typeof import('vue')>()),
  onMounted: () => undefined,
  onBeforeUnmount: () => undefined,
}))

type Stands = ReleaseStep['result']['stands']
const whole = { id: 'j', still_off: [], jumper_on: false } as unknown as JobView
let job = whole
let stands: Stands[] = []
let sent: RecordRelease[] = []

const step = (i: number): ReleaseStep =>
  ({
    tried: { act: 'crank', from: { key: `${i}` }, moved: {}, expected: 'no-crank' },
    answers: ['no-crank', 'cranks'],
    result: { stands: stands[i], saw: null, entry: stands[i] === 'untried' ? null : `e${i}` },
  }) as unknown as ReleaseStep

function release(): ReleaseView {
  const next = stands.findIndex((s) => s === 'untried' || s === 'again')
  const steps = stands.map((_, i) => step(i))
  return { revision: 3, open: true, steps, next: next < 0 ? null : next } as ReleaseView
}

beforeEach(() => {
  stands = ['good', 'untried', 'untried']
  sent = []
  job = whole
  localStorage.clear()
  vi.spyOn(api, 'job').mockImplementation(() => Promise.resolve(job))
  vi.spyOn(api, 'release').mockImplementation(() => Promise.resolve(release()))
  vi.spyOn(api, 'recordRelease').mockImplementation((_, body) => {
    sent.push(body)
    if (body.entry.kind === 'step') {
      const at = Number(body.entry.from.key)
      stands[at] = body.entry.saw === body.entry.expected ? 'good' : 'bad'
    }
    return Promise.resolve(release())
  })
  vi.spyOn(api, 'voidRelease').mockImplementation((_, entry) => {
    stands[Number(entry.slice(1))] = 'untried'
    return Promise.resolve(release())
  })
})
afterEach(() => vi.restoreAllMocks())

async function opened() {
  const own = useRelease('j')
  await own.load()
  return own
}

describe('a machine is tried before it goes back', () => {
  test('it begins at what is not done, and goes on where that was right', async () => {
    const own = await opened()
    expect(own.at.value).toBe(1)
    await own.answer('no-crank', 1.5)
    expect(sent[0]?.entry).toMatchObject({
      kind: 'step',
      saw: 'no-crank',
      seconds: 1.5,
      revision: 3,
    })
    expect(own.at.value).toBe(2)
    await own.answer('no-crank')
    expect(sent[1]?.entry).not.toHaveProperty('seconds')
    expect(own.at.value).toBe(own.end.value)
  })

  test('a step that fails stays, and undone it is to be done again', async () => {
    const own = await opened()
    await own.answer('cranks')
    expect([own.at.value, own.step.value?.result.stands]).toEqual([1, 'bad'])
    await own.takeBack()
    expect(own.step.value?.result.stands).toBe('untried')
  })

  test('nothing is tried while something is off', async () => {
    const off = { name: 'seat plug', entry: { kind: 'unplugged', connector: 'seat-plug' } }
    job = { ...whole, still_off: [off] } as JobView
    const own = await opened()
    await own.answer('no-crank')
    expect([own.whole.value, sent]).toEqual([false, []])
  })

  test('what the server refuses is said, and it is looked what stands now', async () => {
    const own = await opened()
    const refusal = ApiError.of(409, 'The drawing was changed meanwhile.')
    vi.mocked(api.recordRelease).mockRejectedValueOnce(refusal)
    const loads = vi.mocked(api.release).mock.calls.length
    expect(await own.enter({ kind: 'fuse', fuse: 'f', amps: 10 })).toBe(false)
    expect(own.refused.value).toContain('drawing')
    expect(vi.mocked(api.release).mock.calls.length).toBeGreaterThan(loads)
  })

  test('no step lies before the first or after the end', async () => {
    const own = await opened()
    own.go(-1)
    expect(own.at.value).toBe(0)
    own.go(99)
    expect([own.at.value, own.step.value]).toEqual([3, undefined])
  })
})

test('a stopwatch counts until it is stopped, and begins anew', () => {
  vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval', 'performance'] })
  const watch = useStopwatch()
  expect(watch.seconds.value).toBeUndefined()
  watch.toggle()
  vi.advanceTimersByTime(1300)
  watch.toggle()
  vi.advanceTimersByTime(900)
  expect([watch.seconds.value, watch.running.value]).toEqual([1.3, false])
  watch.toggle()
  expect(watch.seconds.value).toBe(0)
  watch.reset()
  expect(watch.seconds.value).toBeUndefined()
  vi.useRealTimers()
})
