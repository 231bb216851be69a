import { v7 as uuid } from 'uuid'
import { computed, getCurrentScope, onScopeDispose, ref, shallowRef } from 'vue'
import {
  ApiError,
  type Record,
  type RecordAtBench,
  type RecordRelease,
  type RecordSoak,
  type RecordTrace,
} from './client'
import { UnsentStore, type Damaged, type Unsent } from './unsent'

/** What became of an entry. */
export type Outcome = { kept: true } | { kept: false; problem: ApiError }

/** Between two tries to send what cannot be sent just now, in milliseconds. */
const AGAIN = 1500

/** Where the browser has no locks: what this page is still sending, by owner. */
const sending = new Map<string, Promise<void>>()

/**
 * One sends at a time, of all tabs where the browser has locks, else of this page. An entry that two
 * tabs send is kept once.
 */
async function alone(owner: string, work: () => Promise<void>): Promise<void> {
  const locks = navigator.locks as LockManager | null | undefined
  if (locks) return locks.request(`kelvok.outbox.${owner}`, work)
  const before = sending.get(owner) ?? Promise.resolve()
  const mine = before.catch(() => undefined).then(work)
  sending.set(owner, mine)
  return mine
}

/**
 * Sends entries one after the other, in the order they were made, from whichever tab of the same
 * page. One that cannot be sent waits, and those behind it, until it can: through a lost connection,
 * a database that is away, a reload. One that is refused stays, with why, until a person decides.
 * Its id is made once, so that it is never recorded twice.
 *
 * `recorded` gets the answer, or nothing where another tab had it.
 */
export function useOutbox<E extends { id: string }, A>(
  owner: string,
  post: (entry: E) => Promise<A>,
  recorded: (answer?: A) => Promise<void> | void,
) {
  const store = new UnsentStore<E>(owner)
  const unsent = shallowRef<Unsent<E>[]>([])
  const damaged = shallowRef<Damaged[]>([])
  const waiting = ref(false)
  /** This device keeps nothing: what waits is lost with the page. */
  const fleeting = ref(false)
  /** Whoever waits on this page for what becomes of an entry. */
  const done = new Map<string, (outcome: Outcome) => void>()
  let closed = false

  function look() {
    ;({ unsent: unsent.value, damaged: damaged.value } = store.all())
  }

  function settle(id: string, outcome: Outcome) {
    done.get(id)?.(outcome)
    done.delete(id)
  }

  function refuse(entry: E, problem: ApiError) {
    // Whoever typed it is there, sees what is wrong with it and types it anew.
    const seen = problem.status === 422 && done.has(entry.id)
    if (seen) store.remove(entry.id)
    else store.put({ entry, refused: { status: problem.status, message: problem.sentence } })
    settle(entry.id, { kept: false, problem })
  }

  /** Sends what waits until nothing does. */
  async function sendAll() {
    while (!closed) {
      look()
      const next = unsent.value.find((u) => !u.refused)?.entry
      if (!next) break
      try {
        const answer = await post(next)
        store.remove(next.id)
        waiting.value = false
        await recorded(answer)
        settle(next.id, { kept: true })
      } catch (error) {
        if (!(error instanceof ApiError)) {
          // A bug of ours after it was kept, or before: it is sent again, and kept once.
          store.put({ entry: next, refused: { status: 0, message: String(error) } })
          settle(next.id, { kept: false, problem: new ApiError(0, undefined) })
          throw error
        }
        if (error.passing) {
          waiting.value = true
          await new Promise((wake) => window.setTimeout(wake, AGAIN))
        } else {
          waiting.value = false
          refuse(next, error)
        }
      }
    }
    waiting.value = false
    look()
  }

  function run(): Promise<void> {
    return alone(owner, sendAll)
  }

  /** Another tab sent or refused something. */
  async function elsewhere() {
    look()
    let sent = false
    for (const id of [...done.keys()]) {
      const left = unsent.value.find((u) => u.entry.id === id)
      if (!left) {
        sent = true
        settle(id, { kept: true })
      } else if (left.refused) {
        const { status, message } = left.refused
        settle(id, { kept: false, problem: ApiError.of(status, message) })
      }
    }
    if (sent || done.size === 0) await recorded()
  }

  const forget = store.watch(() => void elsewhere())
  if (getCurrentScope()) {
    onScopeDispose(() => {
      closed = true
      forget()
    })
  }
  look()

  /** Records an entry, behind those that wait already. */
  function record(entry: Omit<E, 'id'>): Promise<Outcome> {
    const full = { ...entry, id: uuid() } as E
    fleeting.value = !store.put({ entry: full })
    look()
    return new Promise((resolve) => {
      done.set(full.id, resolve)
      void run()
    })
  }

  /** Sends an entry again that was refused, just as it was. */
  function again(id: string) {
    const found = unsent.value.find((u) => u.entry.id === id)
    if (!found) return
    store.put({ entry: found.entry })
    void run()
  }

  /** Lets go of an entry that was refused. */
  function drop(id: string) {
    store.remove(id)
    look()
  }

  /** Lets go of what cannot be read. */
  function dropDamaged(key: string) {
    store.removeKey(key)
    look()
  }

  return {
    waiting,
    fleeting,
    damaged,
    busy: computed(() => unsent.value.some((u) => !u.refused)),
    refused: computed(() => unsent.value.filter((u) => u.refused)),
    record,
    resume: run,
    again,
    drop,
    dropDamaged,
  }
}

/** What a screen shows of an outbox: what needs somebody's decision. */
export type Pending = Pick<
  ReturnType<
    typeof useOutbox<Record | RecordAtBench | RecordRelease | RecordSoak | RecordTrace, unknown>
  >,
  'refused' | 'damaged' | 'fleeting' | 'again' | 'drop' | 'dropDamaged'
>
