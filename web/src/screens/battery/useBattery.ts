import { computed, onBeforeUnmount, onMounted, ref, shallowRef } from 'vue'
import {
  ApiError,
  api,
  type BatteryTest,
  type BatteryView,
  type JobView,
  type Observed,
} from '../../api/client'
import type { Degrees } from '../../words/battery'
import { usePerson } from '../usePerson'
import { useRecorder } from '../job/useRecorder'

/** How often it is looked what others have read, in milliseconds. */
const LOOK_AGAIN = 15_000
const DEGREES = 'kelvok.degrees'

/** A job's battery: what was read of it and what that comes to. */
export function useBattery(id: string) {
  const job = shallowRef<JobView>()
  const view = shallowRef<BatteryView>()
  const trouble = ref('')
  const refused = ref('')
  const degrees = ref<Degrees>(localStorage.getItem(DEGREES) === 'C' ? 'C' : 'F')
  const { person } = usePerson()

  async function load() {
    try {
      const [own, battery] = await Promise.all([api.job(id), api.battery(id)])
      job.value = own
      view.value = battery
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error.message
      if (error.passing) window.setTimeout(() => void load(), 2000)
    }
  }

  const recorder = useRecorder(id, () => undefined, load)
  const busy = computed(() => recorder.busy.value)

  let timer: number | undefined
  onMounted(async () => {
    await load()
    await recorder.resume()
    timer = window.setInterval(() => {
      if (!busy.value && !document.hidden) void load()
    }, LOOK_AGAIN)
  })
  onBeforeUnmount(() => window.clearInterval(timer))

  async function enter(
    observed: Observed,
    condition: { [control: string]: string },
    engine: 'stopped' | 'cranking',
  ): Promise<boolean> {
    refused.value = ''
    const set_up = job.value?.still_off.map((s) => s.entry) ?? []
    const outcome = await recorder.record({
      by: person.value,
      condition,
      engine,
      set_up,
      observed,
      repeats: 1,
    })
    if (!outcome.kept) refused.value = outcome.problem.sentence
    return outcome.kept
  }

  /** Records a reading of the battery by itself; whether it was taken. */
  const record = (test: BatteryTest) => enter({ kind: 'battery-test', test }, {}, 'stopped')

  /** Records volts at the posts while it cranks. */
  function recordCranking(typed: string): Promise<boolean> {
    const own = view.value
    if (!own?.crank) return Promise.resolve(false)
    const { positive: red, negative: black } = own
    return enter(
      { kind: 'reading', instrument: 'voltmeter', red, black, typed },
      own.crank,
      'cranking',
    )
  }

  async function takeBack(entry: string) {
    refused.value = ''
    try {
      await api.voidEvidence(id, entry, { by: person.value, reason: 'Undone' })
      await load()
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      refused.value = error.message
    }
  }

  function setDegrees(to: Degrees) {
    degrees.value = to
    localStorage.setItem(DEGREES, to)
  }

  return {
    job,
    view,
    trouble,
    refused,
    degrees,
    setDegrees,
    recorder,
    busy,
    record,
    recordCranking,
    takeBack,
  }
}
