import { nextTick, type Ref } from 'vue'

/** What asks for the next thing: a doubt, a fault to be repaired or found, else the card. */
const ASKS = ['.doubt', '.card-first > .repair', '.verdict.asks', '.next .card']

/**
 * Takes the focus to what comes next once something is recorded: the button that was pressed went
 * with its card, or would answer another one. A field keeps it, for the next reading.
 */
export function useOnward(bay: Ref<boolean>) {
  function onward() {
    const next = ASKS.map((a) => document.querySelector<HTMLElement>(a)).find(Boolean)
    next?.focus({ preventScroll: bay.value })
  }

  /** After what was done here, and not in another tab. */
  async function done() {
    await nextTick()
    const at = document.activeElement
    if (at === document.body || (at?.tagName === 'BUTTON' && at.closest('.card-first'))) onward()
  }

  return { onward, done }
}
