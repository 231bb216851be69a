import { ref } from 'vue'
import { api, type BatteryTest, type BatteryView } from '../../api/client'
import type { Degrees } from '../../words/battery'
import { useJobReadings } from '../useJobReadings'

const DEGREES = 'kelvok.degrees'

/** A job's battery: what was read of it and what that comes to. */
export function useBattery(id: string) {
  const readings = useJobReadings<BatteryView>(id, () => api.battery(id))
  const degrees = ref<Degrees>(localStorage.getItem(DEGREES) === 'C' ? 'C' : 'F')

  /** Records a reading of the battery by itself; whether it was taken. */
  const record = (test: BatteryTest) =>
    readings.enter({ kind: 'battery-test', test }, {}, 'stopped')

  /** Records volts at the posts while it cranks. */
  function recordCranking(typed: string): Promise<boolean> {
    const own = readings.view.value
    if (!own?.crank) return Promise.resolve(false)
    const { positive: red, negative: black } = own
    return readings.enter(
      { kind: 'reading', instrument: 'voltmeter', red, black, typed },
      own.crank,
      'cranking',
    )
  }

  function setDegrees(to: Degrees) {
    degrees.value = to
    localStorage.setItem(DEGREES, to)
  }

  return { ...readings, degrees, setDegrees, record, recordCranking }
}
