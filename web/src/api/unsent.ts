/**
 * Entries that are not sent yet, kept on this device: each under a key of its own, so that two tabs
 * of one job never write over one another's. Keys sort by when they were made.
 */

/** Why an entry was refused. */
export interface Refusal {
  status: number
  message: string
}

export interface Unsent<E> {
  entry: E
  refused?: Refusal | undefined
}

/** What is kept and cannot be read, as it lies there. */
export interface Damaged {
  key: string
  text: string
}

const PREFIX = 'kelvok.unsent.'

export class UnsentStore<E extends { id: string }> {
  /** Where the device keeps nothing, this page does. */
  private readonly here = new Map<string, string>()
  private readonly prefix: string

  constructor(owner: string) {
    this.prefix = `${PREFIX}${owner}.`
    this.takeOver(`${PREFIX}${owner}`)
  }

  /** Entries that an older Kelvok kept together under one key. */
  private takeOver(key: string) {
    const text = this.get(key)
    if (text === null) return
    try {
      for (const entry of JSON.parse(text) as E[]) this.put({ entry })
      this.removeKey(key)
    } catch {
      // It is shown as damaged, and stays until somebody decides.
      this.set(`${this.prefix}0`, text)
      this.removeKey(key)
    }
  }

  private get(key: string): string | null {
    try {
      return localStorage.getItem(key) ?? this.here.get(key) ?? null
    } catch {
      return this.here.get(key) ?? null
    }
  }

  /** Whether the device keeps it. */
  private set(key: string, text: string): boolean {
    try {
      localStorage.setItem(key, text)
      this.here.delete(key)
      return true
    } catch {
      this.here.set(key, text)
      return false
    }
  }

  removeKey(key: string) {
    this.here.delete(key)
    try {
      localStorage.removeItem(key)
    } catch {
      // Nothing is kept there then.
    }
  }

  private keys(): string[] {
    let kept: string[] = []
    try {
      kept = Object.keys(localStorage)
    } catch {
      // The device keeps nothing for us.
    }
    const own = [...kept, ...this.here.keys()].filter((key) => key.startsWith(this.prefix))
    return [...new Set(own)].sort()
  }

  /** Whether the device keeps it beyond this page. */
  put(unsent: Unsent<E>): boolean {
    return this.set(this.prefix + unsent.entry.id, JSON.stringify(unsent))
  }

  remove(id: string) {
    this.removeKey(this.prefix + id)
  }

  has(id: string): boolean {
    return this.get(this.prefix + id) !== null
  }

  /** Everything that is kept, oldest first, and what cannot be read of it. */
  all(): { unsent: Unsent<E>[]; damaged: Damaged[] } {
    const unsent: Unsent<E>[] = []
    const damaged: Damaged[] = []
    for (const key of this.keys()) {
      const text = this.get(key)
      if (text === null) continue
      try {
        const read = JSON.parse(text) as Unsent<E>
        if (read.entry.id !== key.slice(this.prefix.length)) throw new Error('another entry')
        unsent.push(read)
      } catch {
        damaged.push({ key, text })
      }
    }
    return { unsent, damaged }
  }

  /** Calls back when another tab changes what is kept; returns how to stop that. */
  watch(changed: () => void): () => void {
    const heard = (event: StorageEvent) => {
      if (event.key === null || event.key.startsWith(this.prefix)) changed()
    }
    window.addEventListener('storage', heard)
    return () => window.removeEventListener('storage', heard)
  }
}
