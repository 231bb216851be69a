import { onBeforeUnmount, ref, watch, type Ref } from 'vue'
import { liveAddress, type Instrument, type LiveView, type Range } from '../../api/client'
import { tone } from '../../input/tones'

const KEPT = 'kelvok.meter'

const RANGES: { [instrument in Instrument]: Range | undefined } = {
  voltmeter: 'dc-volts',
  ohmmeter: 'ohms',
  buzzer: 'continuity',
  'ac-voltmeter': 'ac-volts',
  'diode-range': 'diode',
  'test-lamp': undefined,
  'led-lamp': undefined,
}

/**
 * A meter that talks: its live reading while it is switched on, on the range that is wanted. A
 * reading that stood for a second after it moved is handed over, once.
 */
export function useMeter(
  person: Ref<string>,
  instrument: Ref<Instrument | undefined>,
  taken: (typed: string) => void,
) {
  const address = ref(localStorage.getItem(KEPT) ?? '127.0.0.1:5025')
  const on = ref(false)
  const live = ref<LiveView>()
  /** The server that tells of the meter does not answer. */
  const lost = ref(false)
  let source: EventSource | undefined

  function close() {
    source?.close()
    source = undefined
    live.value = undefined
    lost.value = false
  }

  function open() {
    close()
    const range = instrument.value && RANGES[instrument.value]
    if (!on.value || !range) return
    source = new EventSource(liveAddress(address.value.trim(), range, person.value))
    source.onmessage = (event: MessageEvent<string>) => {
      const before = live.value
      live.value = JSON.parse(event.data) as LiveView
      lost.value = false
      if (range === 'continuity') tone.buzz(closed(live.value))
      if (live.value.taken != null) {
        tone.taken()
        taken(live.value.taken)
      } else if (live.value.state !== 'reading' && before?.state === 'reading') {
        tone.trouble()
      }
    }
    source.onerror = () => (lost.value = true)
  }

  watch([on, instrument, person], open)
  watch(address, (text) => localStorage.setItem(KEPT, text))
  onBeforeUnmount(() => {
    tone.buzz(false)
    close()
  })

  return { address, on, live, lost }
}

/** Whether a continuity buzzer sounds now. */
function closed(live: LiveView): boolean {
  return live.state === 'reading' && Number.parseFloat(live.shown) < 30
}
