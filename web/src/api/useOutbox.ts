import { v7 as uuid } from 'uuid'
import { computed, ref, shallowRef } from 'vue'
import { ApiError } from './client'

/** What became of an entry. */
export type Outcome = { kept: true } | { kept: false; problem: ApiError }

/**
 * Sends entries one after the other, in the order they were made. One that cannot be sent waits,
 * and those behind it, until it can: through a lost connection, a database that is away, a reload.
 * Its id is made once, so that it is never recorded twice.
 */
export function useOutbox<E extends { id: string }, A>(
  owner: string,
  post: (entry: E) => Promise<A>,
  recorded: (answer: A) => Promise<void> | void,
) {
  const kept = `kelvok.unsent.${owner}`
  const unsent = shallowRef(JSON.parse(localStorage.getItem(kept) ?? '[]') as E[])
  const waiting = ref(false)
  const done = new Map<string, (outcome: Outcome) => void>()
  let running = false

  function keep() {
    if (unsent.value.length) localStorage.setItem(kept, JSON.stringify(unsent.value))
    else localStorage.removeItem(kept)
  }

  /** Sends one entry until it is answered for good. */
  async function send(entry: E): Promise<Outcome> {
    for (;;) {
      try {
        await recorded(await post(entry))
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
        unsent.value = unsent.value.slice(1)
        keep()
        done.get(next.id)?.(outcome)
        done.delete(next.id)
      }
    } finally {
      running = false
    }
  }

  /** Records an entry, behind those that wait already. */
  function record(entry: Omit<E, 'id'>): Promise<Outcome> {
    const full = { ...entry, id: uuid() } as E
    unsent.value = [...unsent.value, full]
    keep()
    return new Promise((resolve) => {
      done.set(full.id, resolve)
      void run()
    })
  }

  return { waiting, busy: computed(() => unsent.value.length > 0), record, resume: run }
}
