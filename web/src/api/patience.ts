import { shallowReactive } from 'vue'

/**
 * Answers that are being worked out, by the path they were asked for: the share that is done, or
 * null where that is not known.
 */
export const working: Map<string, number | null> = shallowReactive(new Map())

/** What is being worked out is asked for again after so many milliseconds. */
const AGAIN = 400

/**
 * Fetches, and asks again just as before for as long as the answer is being worked out (202). An
 * aborted request is not asked again, and the work ends.
 */
export async function patientFetch(request: Request): Promise<Response> {
  const { pathname } = new URL(request.url)
  try {
    for (;;) {
      const response = await fetch(request.clone())
      if (response.status !== 202) return response
      const { share } = (await response.json()) as { share: number | null }
      working.set(pathname, share)
      await new Promise((wake) => window.setTimeout(wake, AGAIN))
      request.signal.throwIfAborted()
    }
  } finally {
    working.delete(pathname)
  }
}
