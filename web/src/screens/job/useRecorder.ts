import { v7 as uuid } from 'uuid'
import { ref } from 'vue'
import { ApiError, api, type Record } from '../../api/client'

/**
 * Sends entries, and keeps one that could not be sent until it can: through a lost connection, a
 * database that is away, a reload. Its id is made once, so that it is never recorded twice.
 */
export function useRecorder(job: string, recorded: () => Promise<void>) {
  const kept = `kelvok.unsent.${job}`
  const waiting = ref(false)
  const busy = ref(false)
  const refused = ref<ApiError>()

  async function send(record: Record): Promise<boolean> {
    localStorage.setItem(kept, JSON.stringify(record))
    busy.value = true
    refused.value = undefined
    try {
      for (;;) {
        try {
          await api.record(job, record)
          break
        } catch (error) {
          if (!(error instanceof ApiError)) throw error
          if (!error.passing) {
            refused.value = error
            return false
          }
          waiting.value = true
          await new Promise((wake) => window.setTimeout(wake, 1500))
        }
      }
      await recorded()
      return true
    } finally {
      localStorage.removeItem(kept)
      waiting.value = false
      busy.value = false
    }
  }

  /** Records an entry; false if it was refused, with the reason in `refused`. */
  function record(entry: Omit<Record, 'id'>): Promise<boolean> {
    return send({ ...entry, id: uuid() })
  }

  /** Sends what a reload interrupted. */
  async function resume() {
    const unsent = localStorage.getItem(kept)
    if (unsent) await send(JSON.parse(unsent) as Record)
  }

  return { waiting, busy, refused, record, resume }
}
