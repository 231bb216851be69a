import { watch, type Ref } from 'vue'
import { api, type DropsView, type Instrument } from '../../api/client'
import { useJobReadings } from '../useJobReadings'

/** The drops along one of a job's circuits: what was read and what it comes to. */
export function useDrops(id: string, circuit: Ref<string | undefined>) {
  const readings = useJobReadings<DropsView>(id, async (before) => {
    // The one that is walked is walked on, whatever comes into question meanwhile.
    const wanted = circuit.value || before?.circuit
    const seen = await api.drops(id, wanted)
    return circuit.value && wanted !== circuit.value ? undefined : seen
  })
  const { view, busy, load, enter } = readings
  watch(circuit, load)

  /** Records a reading between two terminals; whether it was taken. */
  function record(
    instrument: Instrument,
    [red, black]: [string, string],
    typed: string,
  ): Promise<boolean> {
    const at = view.value
    if (!at || busy.value) return Promise.resolve(false)
    return enter({ kind: 'reading', instrument, red, black, typed }, at.condition, at.engine)
  }

  return { ...readings, record }
}
