import { onBeforeUnmount, ref, watch, type Ref } from 'vue'
import {
  liveAddress,
  type Instrument,
  type LiveView,
  type Problem,
  type Range,
} from '../../api/client'
import { tone } from '../../input/tones'

const KEPT = 'kelvok.meter'

const RANGES: { [instrument in Instrument]: Range } = {
  voltmeter: 'dc-volts',
  ohmmeter: 'ohms',
  buzzer: 'continuity',
  'ac-voltmeter': 'ac-volts',
  'diode-range': 'diode',
  // Where a lamp is wanted, volts at the same point tell nearly the same.
  'test-lamp': 'dc-volts',
  'led-lamp': 'dc-volts',
}

/** The instrument that a meter is where another is wanted. */
export function asMeter(wanted: Instrument): Instrument {
  return RANGES[wanted] === 'dc-volts' ? 'voltmeter' : wanted
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
  /** Why nothing is told of the meter; empty while something is. */
  const lost = ref('')
  let source: EventSource | undefined

  function close() {
    source?.close()
    source = undefined
    live.value = undefined
    lost.value = ''
  }

  /** A stream that was refused does not say why; a plain request does. */
  async function explain(at: string) {
    const stop = new AbortController()
    try {
      const answer = await fetch(at, { signal: stop.signal })
      if (answer.ok) return
      const problem = (await answer.json()) as Problem
      lost.value = problem.errors?.[0]?.sentence ?? problem.detail
    } finally {
      stop.abort()
    }
  }

  function open() {
    close()
    const range = instrument.value && RANGES[instrument.value]
    if (!on.value || !range) return
    const at = liveAddress(address.value.trim(), range, person.value)
    source = new EventSource(at)
    source.onmessage = (event: MessageEvent<string>) => {
      const before = live.value
      live.value = JSON.parse(event.data) as LiveView
      lost.value = ''
      if (range === 'continuity') tone.buzz(closed(live.value))
      if (live.value.taken != null) {
        tone.taken()
        taken(live.value.taken)
      } else if (live.value.state !== 'reading' && before?.state === 'reading') {
        tone.trouble()
      }
    }
    source.onerror = () => {
      lost.value = 'The server does not answer. It is tried again.'
      if (source?.readyState === EventSource.CLOSED) void explain(at).catch(() => undefined)
    }
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
