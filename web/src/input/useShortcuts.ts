import { onBeforeUnmount, onMounted, ref } from 'vue'

const KEPT = 'kelvok.letters'
const lettersOn = ref(localStorage.getItem(KEPT) !== 'off')

/** Whether single letters do anything; some people type with a switch or by voice. */
export function useLetters() {
  function toggle() {
    lettersOn.value = !lettersOn.value
    localStorage.setItem(KEPT, lettersOn.value ? 'on' : 'off')
  }
  return { lettersOn, toggle }
}

/** Something lies over the page. */
const OPEN = '.v-overlay--active .v-overlay__content'

/** Calls `handle` for every key pressed outside a field; true means it was used. */
export function useShortcuts(handle: (key: string, shift: boolean) => boolean) {
  function press(event: KeyboardEvent) {
    const at = event.target as HTMLElement
    const inField = at.matches('input, textarea, select, [contenteditable]')
    // A list, a menu or a sheet that is open has its own use for the keys.
    const inList = at.closest('[role=listbox], [role=menu], [role=dialog], [role=combobox]')
    if (
      inField ||
      inList ||
      document.querySelector(OPEN) ||
      event.ctrlKey ||
      event.metaKey ||
      event.altKey
    )
      return
    const letter = /^[a-z]$/i.test(event.key)
    if (letter && !lettersOn.value) return
    if (handle(letter ? event.key.toLowerCase() : event.key, event.shiftKey)) event.preventDefault()
  }
  onMounted(() => window.addEventListener('keydown', press))
  onBeforeUnmount(() => window.removeEventListener('keydown', press))
}
