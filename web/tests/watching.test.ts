import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { effectScope } from 'vue'
import { ApiError, api } from '../src/api/client'
import { useJob } from '../src/screens/job/useJob'
import { state } from './made'

/** A job on screen, with the page's clock in the test's hand. */
async function shown() {
  const asked = vi.spyOn(api, 'jobState').mockResolvedValue(state(0))
  const scope = effectScope()
  const job = scope.run(() => useJob('7'))!
  await job.refresh()
  return { job, scope, asked }
}

beforeEach(() => {
  localStorage.clear()
  sessionStorage.clear()
  vi.restoreAllMocks()
  vi.useFakeTimers()
})
afterEach(() => {
  vi.useRealTimers()
})

describe('a job that others record in', () => {
  test('is read again within two seconds where it changed, and left alone where it did not', async () => {
    const { job, scope, asked } = await shown()
    const mark = vi.spyOn(api, 'jobMark').mockResolvedValue({ mark: job.job.value!.mark })
    await vi.advanceTimersByTimeAsync(2000)
    expect(mark).toHaveBeenCalledTimes(1)
    expect(asked).toHaveBeenCalledTimes(1)
    mark.mockResolvedValue({ mark: 'another' })
    asked.mockResolvedValue(state(2))
    await vi.advanceTimersByTimeAsync(2000)
    expect(asked).toHaveBeenCalledTimes(2)
    expect(job.job.value?.evidence).toHaveLength(2)
    scope.stop()
  })

  test('is never asked after twice at a time, however slow the answer', async () => {
    const { job, scope } = await shown()
    let answer: ((found: { mark: string }) => void) | undefined
    const mark = vi
      .spyOn(api, 'jobMark')
      .mockImplementation(() => new Promise((resolve) => (answer = resolve)))
    await vi.advanceTimersByTimeAsync(20_000)
    expect(mark).toHaveBeenCalledTimes(1)
    answer?.({ mark: job.job.value!.mark })
    await vi.advanceTimersByTimeAsync(2000)
    expect(mark).toHaveBeenCalledTimes(2)
    scope.stop()
  })

  test('goes on being asked after when the server was away, and no longer once it is left', async () => {
    const { job, scope } = await shown()
    const away = ApiError.of(0, 'Away.')
    const mark = vi.spyOn(api, 'jobMark').mockRejectedValueOnce(away)
    mark.mockResolvedValue({ mark: job.job.value!.mark })
    await vi.advanceTimersByTimeAsync(3200)
    expect(mark).toHaveBeenCalledTimes(2)
    expect(job.trouble.value).toBe('')
    scope.stop()
    await vi.advanceTimersByTimeAsync(20_000)
    expect(mark).toHaveBeenCalledTimes(2)
  })
})
