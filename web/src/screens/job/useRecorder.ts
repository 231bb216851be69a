import { v7 as uuid } from 'uuid'
import { computed, ref } from 'vue'
import { ApiError, api, type Record } from '../../api/client'

/** What became of an entry. */
export type Outcome = { kept: true } | { kept: false; problem: ApiError }

/**
 * Sends entries one after the other, in the order they were made. One that cannot be sent waits,
 * and those behind it, until it can: through a lost connection, a database that is away, a reload.
 * Its id is made once, so that it is never recorded twice.
 */
export function useRecorder(job: string, recorded: () => Promise<void>) {
  const kept = `kelvok.unsent.${job}`
  const unsent = ref<Record[]>(JSON.parse(localStorage.getItem(kept) ?? '[]') as Record[])
  const waiting = ref(false)
  const done = new Map<string, (outcome: Outcome) => void>()
  let running = false

  function keep() {
    if (unsent.value.length) localStorage.setItem(kept, JSON.stringify(unsent.value))
    else localStorage.removeItem(kept)
  }

  /** Sends one entry until it is answered for good. */
  async function send(record: Record): Promise<Outcome> {
    for (;;) {
      try {
        await api.record(job, record)
        return { kept: true }
      } catch (error) {
        if (!(error instanceof ApiError)) throw error
        if (!error.passing) return { kept: false, problem: error }
        waiting.value = true
        await new Promise((wake) => window.setTimeout(wake, 1500))
      }
    }
  }

  async function run() {
    if (running) return
    running = true
    try {
      for (let next = unsent.value[0]; next; next = unsent.value[0]) {
        const outcome = await send(next)
        waiting.value = false
        unsent.value.shift()
        keep()
        if (outcome.kept) await recorded()
        done.get(next.id)?.(outcome)
        done.delete(next.id)
      }
    } finally {
      running = false
    }
  }

  /** Records an entry, behind those that wait already. */
  function record(entry: Omit<Record, 'id'>): Promise<Outcome> {
    const full = { ...entry, id: uuid() }
    unsent.value.push(full)
    keep()
    return new Promise((resolve) => {
      done.set(full.id, resolve)
      void run()
    })
  }

  return { waiting, busy: computed(() => unsent.value.length > 0), record, resume: run }
}
