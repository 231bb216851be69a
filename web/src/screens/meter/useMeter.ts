import { onBeforeUnmount, ref, watch, type Ref } from 'vue'
import {
  ApiError,
  api,
  listenToMeter,
  type Condition,
  type Engine,
  type Instrument,
  type LiveView,
  type PointView,
  type Range,
  type SetUpView,
} from '../../api/client'
import { tone } from '../../input/tones'

const KEPT = 'kelvok.meter'
/** Before a lost connection is made again, in milliseconds. */
const AGAIN = 1500

/** How the machine stands for a reading, and where the probes go. */
interface Wanted {
  condition: Condition
  engine: Engine
  set_up: SetUpView[]
  red: PointView
  black: PointView
}

const RANGES: { [instrument in Instrument]: Range } = {
  voltmeter: 'dc-volts',
  ohmmeter: 'ohms',
  buzzer: 'continuity',
  'ac-voltmeter': 'ac-volts',
  'diode-range': 'diode',
  clamp: 'dc-amps',
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
  const address = ref(localStorage.getItem(KEPT) ?? '')
  /** The shop's meters; none until they were asked for. */
  const meters = ref<string[]>()
  const on = ref(false)
  const live = ref<LiveView>()
  /** Why nothing is told of the meter; empty while something is. */
  const lost = ref('')
  let listening: AbortController | undefined

  void api
    .meters()
    .then((known) => {
      meters.value = known
      if (!known.includes(address.value)) address.value = known[0] ?? ''
    })
    // The job goes on without a meter; switching one on says what is the matter.
    .catch(() => (meters.value = []))

  function close() {
    listening?.abort()
    listening = undefined
    live.value = undefined
    lost.value = ''
  }

  function heard(range: Range, event: LiveView) {
    const before = live.value
    live.value = event
    lost.value = ''
    if (range === 'continuity') tone.buzz(closed(event))
    if (event.taken != null) {
      tone.taken()
      taken(event.taken)
    } else if (event.state !== 'reading' && before?.state === 'reading') {
      tone.trouble()
    }
  }

  /** Listens for as long as the meter is on; a connection that is lost is made again. */
  async function listen(range: Range, stop: AbortController) {
    const body = { address: address.value, range, by: person.value }
    while (!stop.signal.aborted) {
      try {
        await listenToMeter(body, stop.signal, (event) => heard(range, event))
      } catch (error) {
        if (stop.signal.aborted) return
        if (!(error instanceof ApiError)) throw error
        if (!error.passing) {
          lost.value = error.sentence
          return
        }
        lost.value = 'The server does not answer. Trying again.'
        await new Promise((wake) => window.setTimeout(wake, AGAIN))
      }
    }
  }

  function open() {
    close()
    const range = instrument.value && RANGES[instrument.value]
    if (!on.value || !range) return
    listening = new AbortController()
    void listen(range, listening)
  }

  /** Moves the stand-in's machine and probes to where a test wants them; a real meter says that it cannot. */
  async function bring(at: Wanted | null | undefined) {
    if (!at) return
    try {
      await api.moveStandIn({
        address: address.value.trim(),
        condition: at.condition,
        engine: at.engine,
        set_up: at.set_up.map((s) => s.entry),
        red: at.red.terminal,
        black: at.black.terminal,
      })
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      lost.value = error.problem?.errors?.[0]?.sentence ?? error.message
    }
  }

  watch([on, instrument, person], open)
  watch(address, (text) => localStorage.setItem(KEPT, text))
  onBeforeUnmount(() => {
    tone.buzz(false)
    close()
  })

  return { address, meters, on, live, lost, bring }
}

/** Whether a continuity buzzer sounds now. */
function closed(live: LiveView): boolean {
  return live.state === 'reading' && Number.parseFloat(live.shown) < 30
}
