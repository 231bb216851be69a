import { ref, watch, type Ref } from 'vue'

const KEPT = 'kelvok.speech'

/** Says aloud what is to be done and what was recorded, where the browser has a voice; off until asked for. */
export function useSpeech(lines: Ref<string>[]) {
  const can = 'speechSynthesis' in window
  const on = ref(can && localStorage.getItem(KEPT) === 'on')

  function say(line: string) {
    if (!on.value || !line) return
    window.speechSynthesis.cancel()
    window.speechSynthesis.speak(new SpeechSynthesisUtterance(line))
  }
  for (const line of lines) watch(line, say)

  function toggle() {
    on.value = !on.value
    localStorage.setItem(KEPT, on.value ? 'on' : 'off')
    if (on.value) say(lines[0]?.value ?? '')
    else if (can) window.speechSynthesis.cancel()
  }

  return { can, on, toggle }
}
