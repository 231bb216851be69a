import { onBeforeUnmount, ref, watch } from 'vue'

/** The part of the screen's lock that is asked for. */
interface WakeLock {
  release(): Promise<void>
}

const BY_FOOT = '.next .card button:not(:disabled), button[data-by-foot]:not(:disabled)'

/** Bay view: only the card, full screen, for a phone clipped to the machine. The screen stays awake. */
export function useBay() {
  const bay = ref(false)
  let lock: WakeLock | undefined

  async function awake() {
    try {
      lock = await navigator.wakeLock?.request('screen')
    } catch {
      // Not every browser has it, or lets it while the battery is low.
      lock = undefined
    }
  }

  /**
   * A presenter or foot switch has two keys: on to the next button, and back. It comes to the card's,
   * and to what else says that it is worked by foot.
   */
  function press(event: KeyboardEvent) {
    const by = { PageDown: 1, PageUp: -1 }[event.key]
    if (!bay.value || !by) return
    const all = [...document.querySelectorAll<HTMLElement>(BY_FOOT)]
    const at = all.indexOf(document.activeElement as HTMLElement)
    all.at(at < 0 ? (by > 0 ? 0 : -1) : (at + by) % all.length)?.focus()
    event.preventDefault()
  }

  function show(on: boolean) {
    if (on) {
      window.addEventListener('keydown', press)
      window.scrollTo(0, 0)
      void awake()
    } else {
      window.removeEventListener('keydown', press)
      void lock?.release()
    }
  }
  watch(bay, show)
  // Whoever leaves the job by the browser's own way leaves bay view too.
  onBeforeUnmount(() => show(false))

  return { bay, toggle: () => (bay.value = !bay.value) }
}
