import { beforeEach, describe, expect, test, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import { ApiError, api, type CircuitView, type Recorded } from '../src/api/client'
import { useJob } from '../src/screens/job/useJob'
import { useTarget } from '../src/screens/job/test/useTarget'
import { diagnosis, element, measured, point, state, trace, trackPoint } from './made'

beforeEach(() => {
  localStorage.clear()
  sessionStorage.clear()
  vi.restoreAllMocks()
})

describe('a job', () => {
  test('is shown as the server has it at first, in one answer', async () => {
    const asked = vi.spyOn(api, 'jobState').mockResolvedValue(state(2))
    const job = useJob('7')
    await job.refresh()
    expect(asked.mock.calls).toEqual([
      ['7', { at: undefined, circuit: undefined, strategy: 'best-split' }],
    ])
    expect(job.condition.value).toEqual({ key: 'start', pedal: 'down' })
    expect(job.circuit.value).toBe('start')
  })

  test('stands as it was left on this device', async () => {
    sessionStorage.setItem('kelvok.condition.7', JSON.stringify({ key: 'run' }))
    const asked = vi.spyOn(api, 'jobState').mockResolvedValue(state(0))
    await useJob('7').refresh()
    expect(asked.mock.calls[0]?.[1].at).toEqual({ set: { key: 'run' }, engine: 'stopped' })
  })

  test('takes what follows with the answer to what was recorded, and asks for nothing more', async () => {
    const asked = vi.spyOn(api, 'jobState').mockResolvedValue(state(0))
    const job = useJob('7')
    await job.refresh()
    const answer = { state: state(1) } as Recorded
    await job.recorded({ shown: job.shown(), answer })
    expect(job.job.value?.evidence).toHaveLength(1)
    expect(job.diagnosis.value?.tests).toEqual(answer.state?.follows.diagnosis.tests)
    expect(asked).toHaveBeenCalledTimes(1)
  })

  test('asks for what follows where it did not come with the answer', async () => {
    const asked = vi.spyOn(api, 'jobState').mockResolvedValue(state(3))
    const job = useJob('7')
    await job.refresh()
    await job.recorded({ shown: job.shown(), answer: { state: null } as Recorded })
    await job.recorded()
    expect(asked).toHaveBeenCalledTimes(3)
  })

  test('keeps the picture of where the controls were moved meanwhile', async () => {
    vi.spyOn(api, 'jobState').mockResolvedValue(state(0))
    const job = useJob('7')
    await job.refresh()
    const before = job.shown()
    const moved = { ...trace([], []), supply_volts: 11 } as CircuitView
    const drawn = vi.spyOn(api, 'trace').mockResolvedValue(moved)
    await job.move('key', 'off')
    await job.recorded({ shown: before, answer: { state: state(1) } as Recorded })
    expect(job.job.value?.evidence).toHaveLength(1)
    expect(job.drawn.value).toEqual(moved)
    expect(drawn).toHaveBeenCalledTimes(2)
  })

  test('does not show a picture from before what was recorded over the one that has it', async () => {
    vi.spyOn(api, 'jobState').mockResolvedValue(state(0))
    const job = useJob('7')
    await job.refresh()
    let late: (view: CircuitView) => void = () => undefined
    vi.spyOn(api, 'trace').mockReturnValue(new Promise((answer) => (late = answer)))
    const moving = job.move('key', 'run')
    expect(job.fresh.value, 'drawn for where the key was before').toBe(false)
    const answer = { state: state(1) } as Recorded
    await job.recorded({ shown: job.shown(), answer })
    late({ ...trace([], []), supply_volts: 1 } as CircuitView)
    await moving
    expect(job.drawn.value).toEqual(answer.state?.follows.drawn)
    expect(job.fresh.value).toBe(true)
  })

  test('says what stands in the way, and tries again where that passes', async () => {
    vi.useFakeTimers()
    const asked = vi.spyOn(api, 'jobState')
    asked.mockRejectedValueOnce(ApiError.of(503, 'Busy.')).mockResolvedValue(state(0))
    const job = useJob('7')
    await job.refresh()
    expect(job.trouble.value).toBe('Busy.')
    await vi.advanceTimersByTimeAsync(2100)
    expect([job.trouble.value, !!job.job.value]).toEqual(['', true])
    vi.useRealTimers()
  })
})

describe('what is to be measured', () => {
  const along = [1, 2, 3].map((n) => trackPoint(n, { expected: 12.4, healthy: 12.5 }))
  const shown = trace([element('wire', 1, 2), element('gate', 2, 3)], along)
  const target = (...tests: ReturnType<typeof measured>[]) =>
    useTarget(
      ref(shown),
      ref(diagnosis(tests)),
      ref({ key: 'start' }),
      ref('stopped' as const),
      ref(true),
      ref([]),
    )

  test('is the plan’s, with the cautions of the plan', () => {
    const { target: now } = target(measured('a', { cautions: ['kill-lead-off'] }))
    expect(now.value).toMatchObject({ red: { terminal: 'a' }, cautions: ['kill-lead-off'] })
  })

  test('is the next of the plan once one is skipped', () => {
    const t = target(measured('a'), measured('b'))
    t.skip()
    expect(t.target.value?.red.terminal).toBe('b')
    t.skip()
    expect(t.target.value).toBeUndefined()
  })

  test('asked for out of its order and skipped, is again what it was', () => {
    const t = target(measured('a'), measured('b'))
    t.askFor(measured('c'))
    expect([t.target.value?.red.terminal, !!t.asked.value]).toEqual(['c', true])
    t.skip()
    expect([t.target.value?.red.terminal, !!t.asked.value]).toEqual(['a', false])
  })

  test('is first to see for oneself what is complained of', () => {
    const tried = { kind: 'try', attend: 'engine' }
    const first = measured('x', { why: 'reproduce', action: tried as never })
    const judged = { ...diagnosis([measured('a')]), reproduce: first }
    const t = useTarget(
      ref(shown),
      ref(judged),
      ref({}),
      ref('stopped' as const),
      ref(true),
      ref([]),
    )
    expect(t.tried.value?.why).toBe('reproduce')
    t.skip()
    expect([t.tried.value, t.target.value?.red.terminal]).toEqual([undefined, 'a'])
  })

  test('at a point of the track has the cautions that the server sent with the track', async () => {
    const t = target(measured('a'))
    t.chosen.value = 't.2'
    await nextTick()
    expect(t.target.value).toMatchObject({
      test: undefined,
      cautions: ['may-crank'],
      expected: 12.4,
    })
  })

  test('at a point of one’s own has everything put back first that is off', async () => {
    const off = [{ entry: { kind: 'battery-off' as const }, name: 'battery' }]
    const judged = ref(diagnosis([measured('a')]))
    const t = useTarget(ref(shown), judged, ref({}), ref('stopped' as const), ref(true), ref(off))
    expect(t.target.value?.putBack).toEqual([])
    t.chosen.value = 't.2'
    await nextTick()
    expect(t.target.value?.putBack).toEqual(off)
  })

  test('at a point has none while the track is still that of other controls', async () => {
    const judged = ref(diagnosis([measured('a')]))
    const t = useTarget(
      ref(shown),
      judged,
      ref({ key: 'off' }),
      ref('stopped' as const),
      ref(false),
      ref([]),
    )
    t.chosen.value = 't.2'
    await nextTick()
    expect(t.target.value).toMatchObject({ cautions: undefined, expected: undefined })
  })

  test('of one’s own has none before the server has weighed it', () => {
    const t = target(measured('a'))
    t.own.value = { instrument: 'ohmmeter', red: point('x'), black: point('y'), setUp: [] }
    expect(t.target.value).toMatchObject({ instrument: 'ohmmeter', cautions: undefined })
    t.toPlan()
    expect(t.target.value?.red.terminal).toBe('a')
  })

  test('walks along the track, and no further than its ends', () => {
    const t = target(measured('a'))
    t.step(1)
    expect(t.chosen.value).toBe('t.1')
    t.step(1)
    t.step(1)
    expect(t.chosen.value, 'the negative post is where black is').toBe('t.2')
    t.step(-1)
    t.step(-1)
    expect(t.chosen.value).toBe('t.1')
  })
})
