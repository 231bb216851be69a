import { ref } from 'vue'

const KEPT = 'kelvok.muted'
export const muted = ref(localStorage.getItem(KEPT) === 'yes')

export function toggleMute() {
  muted.value = !muted.value
  localStorage.setItem(KEPT, muted.value ? 'yes' : 'no')
  if (muted.value) tone.buzz(false)
}

let audio: AudioContext | undefined
let buzzer: OscillatorNode | undefined

function context(): AudioContext | undefined {
  if (muted.value) return undefined
  try {
    audio ??= new AudioContext()
    return audio
  } catch {
    return undefined
  }
}

function beep(hertz: number, seconds: number, after = 0) {
  const at = context()
  if (!at) return
  const oscillator = at.createOscillator()
  const gain = at.createGain()
  gain.gain.value = 0.08
  oscillator.frequency.value = hertz
  oscillator.connect(gain).connect(at.destination)
  oscillator.start(at.currentTime + after)
  oscillator.stop(at.currentTime + after + seconds)
}

/** What is heard of a meter. */
export const tone = {
  /** A reading was taken. */
  taken: () => beep(880, 0.12),
  /** The meter stopped answering. */
  trouble: () => {
    beep(220, 0.2)
    beep(165, 0.3, 0.22)
  },
  /** The buzzer sounds for as long as the probes are joined. */
  buzz(on: boolean) {
    if (!on) {
      buzzer?.stop()
      buzzer = undefined
      return
    }
    const at = buzzer ? undefined : context()
    if (!at) return
    const gain = at.createGain()
    gain.gain.value = 0.05
    buzzer = at.createOscillator()
    buzzer.frequency.value = 2000
    buzzer.connect(gain).connect(at.destination)
    buzzer.start()
  },
}
