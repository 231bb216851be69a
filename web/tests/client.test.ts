import { afterEach, describe, expect, test, vi } from 'vitest'
import { ApiError, api, exportAddress } from '../src/api/client'
import { working } from '../src/api/patience'

/** Answers one request after the other, and says which were made. */
function answers(...all: [number, unknown][]) {
  const asked: string[] = []
  vi.stubGlobal('fetch', (request: Request) => {
    asked.push(`${request.method} ${decodeURIComponent(request.url.replace(/^.*\/api/, '/api'))}`)
    const [status, body] = all.shift() ?? [500, {}]
    const headers = { 'content-type': 'application/json' }
    return Promise.resolve(new Response(JSON.stringify(body), { status, headers }))
  })
  return asked
}

afterEach(() => {
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

describe('an answer that is being worked out', () => {
  test('is asked for again, just as before, until it is there', async () => {
    vi.useFakeTimers()
    const asked = answers([202, { share: 0.4 }], [202, { share: null }], [200, { rows: [] }])
    const found = api.faults('gt-46', new AbortController().signal)
    await vi.advanceTimersByTimeAsync(1)
    expect(working.get('/api/v1/machines/gt-46/faults')).toBe(0.4)
    await vi.advanceTimersByTimeAsync(900)
    await expect(found).resolves.toEqual({ rows: [] })
    expect(asked).toHaveLength(3)
    expect(working.size).toBe(0)
  })
})

describe('a refusal', () => {
  test('says what is wrong, field by field, and is not worth sending again', async () => {
    answers([
      422,
      {
        status: 422,
        title: '',
        detail: 'Wrong.',
        errors: [{ field: 'typed', sentence: 'No figure.' }],
      },
    ])
    const refused = await api.job('1').catch((e: unknown) => e)
    expect(refused).toBeInstanceOf(ApiError)
    const { message, sentence, passing, status } = refused as ApiError
    expect([message, sentence, passing, status]).toEqual(['Wrong.', 'No figure.', false, 422])
    expect((refused as ApiError).field('typed')).toBe('No figure.')
    expect((refused as ApiError).field('red')).toBeUndefined()
  })

  test('passes where the server is away or busy', async () => {
    answers([503, { status: 503, title: '', detail: 'Busy.' }])
    await expect(api.job('1')).rejects.toMatchObject({ passing: true })
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('no network')))
    await expect(api.job('1')).rejects.toMatchObject({ status: 0, passing: true })
  })
})

describe('what of a job is shown', () => {
  test('goes with what is asked and with what is recorded', async () => {
    const asked = answers([200, {}], [200, {}], [200, {}], [200, {}])
    const shown = {
      at: { set: { key: 'start', pedal: 'down' }, engine: 'running' as const },
      circuit: 'kill',
      strategy: 'load-back' as const,
    }
    await api.jobState('7', shown)
    await api.record('7', {} as never, shown)
    await api.jobState('7', { strategy: 'best-split' })
    await api.record('7', {} as never)
    const query = 'set=key:start&set=pedal:down&engine=running&circuit=kill&strategy=load-back'
    expect(asked).toEqual([
      `GET /api/v1/jobs/7/state?${query}`,
      `POST /api/v1/jobs/7/evidence?state=true&${query}`,
      'GET /api/v1/jobs/7/state?strategy=best-split',
      'POST /api/v1/jobs/7/evidence',
    ])
  })

  test('stands in the address of a file', () => {
    const at = { set: { key: 'run' }, engine: 'stopped' as const }
    expect(exportAddress('a b', 'netlist.cir', at)).toBe(
      '/api/v1/machines/a%20b/netlist.cir?set=key%3Arun&engine=stopped',
    )
  })
})
