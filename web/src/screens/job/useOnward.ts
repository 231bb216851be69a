import { nextTick, type Ref } from 'vue'

const CARD = '.next .card'
const REPAIR = '.card-first > .repair'
/** What asks for the next thing: two that cannot both hold, a fault to be repaired or found, the
 * card, else the verdict, where the job is closed. A reading that fits nothing is no question that must
 * be answered first. */
const ASKS = ['.doubt[role=alert]', REPAIR, '.verdict.asks', CARD, '.verdict']

/**
 * Takes the focus to what comes next once something is recorded: the button that was pressed went
 * with its card, or would answer another one. A field keeps it, for the next reading.
 */
export function useOnward(bay: Ref<boolean>) {
  function focus(places: string[]) {
    const next = places.map((p) => document.querySelector<HTMLElement>(p)).find(Boolean)
    next?.focus({ preventScroll: bay.value })
  }

  /** Where the skip link leads, whatever else is asked. */
  const toCard = () => focus([CARD, REPAIR])

  /** After what was done here, and not in another tab. */
  async function done() {
    await nextTick()
    const at = document.activeElement
    if (at === document.body || (at?.tagName === 'BUTTON' && at.closest('.card-first'))) focus(ASKS)
  }

  return { toCard, done }
}
