import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import {
  ApiError,
  api,
  type JobView,
  type LadderView,
  type SetUpEntry,
  type Sign,
  type SweepView,
} from '../../api/client'
import { moves } from '../../words/tests'
import { cablesOffRecord, putBackRecord } from '../job/putBack'
import { useRecorder } from '../job/useRecorder'
import { usePerson } from '../usePerson'
import { SAYS, typedSign } from './signs'

/** The sweep of a job's kill wires: its steps, what was found at them, and what goes into the job. */
export function useSweep(id: string) {
  const job = ref<JobView>()
  const sweeps = ref<SweepView[]>()
  const circuit = ref<string>()
  const at = ref(0)
  const trouble = ref('')
  const refused = ref('')
  const said = ref('')
  const { person } = usePerson()

  async function load() {
    try {
      const [view, found] = await Promise.all([api.job(id), api.sweeps(id)])
      job.value = view
      sweeps.value = found
      circuit.value ??= (found.find((s) => s.walk) ?? found[0])?.circuit
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error.message
      if (error.passing) window.setTimeout(() => void load(), 2000)
    }
  }
  const recorder = useRecorder(id, () => undefined, load)
  onMounted(async () => {
    await load()
    at.value = Math.max(walk.value?.stands.findIndex((s) => !s.found) ?? 0, 0)
    await recorder.resume()
  })

  const walk = computed(() => sweeps.value?.find((s) => s.circuit === circuit.value)?.walk)
  const stands = computed(() => walk.value?.stands ?? [])
  const stand = computed(() => stands.value[at.value])
  const before = computed(() => stands.value[at.value - 1]?.condition ?? {})
  const toMove = computed(() =>
    job.value && stand.value ? moves(job.value.controls, before.value, stand.value.condition) : [],
  )
  const wrong = computed(
    () => stands.value.filter((s) => s.found && s.found.sign !== s.shows).length,
  )
  /** The contacts that the steps not as they should be tell of, and that no good step clears. */
  const suspected = computed(() => {
    const told = (good: boolean) =>
      stands.value
        .filter((s) => s.found && (s.found.sign === s.shows) === good)
        .flatMap((s) => s.tells)
    const cleared = new Set(told(true))
    return [...new Set(told(false))].filter((name) => !cleared.has(name))
  })

  /** The kill circuit as the controls stand at this step. */
  const ladder = shallowRef<LadderView>()
  watch(
    [stand, circuit],
    async ([here, kill]) => {
      if (!here || !kill) return
      try {
        const view = await api.trace(id, kill, { set: here.condition, engine: 'stopped' })
        if (stand.value === here && view.shape === 'ladder') ladder.value = view
      } catch (error) {
        // The steps are worked without the picture.
        if (!(error instanceof ApiError)) throw error
      }
    },
    { immediate: true },
  )
  const done = computed(() => stands.value.filter((s) => s.found).length)
  const open = computed(() => job.value?.status === 'open')

  async function record(sign: Sign, deadSpot = false) {
    const here = stand.value
    const by = walk.value
    if (!here || !by || !open.value || job.value?.jumper_on) return
    const [instrument, typed] = typedSign(by.instrument, sign)
    refused.value = ''
    const corrected =
      here.found && job.value?.evidence.find((e) => e.sequence === here.found?.sequence)
    said.value = `${SAYS[sign]} recorded at step ${at.value + 1}.`
    // On to the next at once; what is recorded waits for the server, not the hands for it.
    if (at.value < stands.value.length - 1) at.value += 1
    const outcome = await recorder.record({
      by: person.value,
      condition: here.condition,
      engine: 'stopped',
      set_up: by.set_up.map((s) => s.entry),
      observed: {
        kind: 'reading',
        instrument,
        red: by.red.terminal,
        black: by.black.terminal,
        typed,
      },
      repeats: 1,
      at_times: deadSpot,
    })
    if (!outcome.kept) refused.value = outcome.problem.message
    // A step that was said before is corrected: what was said first no longer counts.
    else if (corrected) await undo(corrected.id)
  }

  async function undo(entry: string) {
    const strategy = 'best-split'
    const undone = { by: person.value, reason: 'Step corrected' }
    try {
      await api.voidEvidence(id, entry, undone, { strategy })
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      refused.value = error.message
    }
    await load()
  }

  /** No step is walked while the cables feed the machine. */
  const cablesOff = () => recorder.record(cablesOffRecord(job.value, person.value))

  const putBack = (what: SetUpEntry) =>
    recorder.record(putBackRecord(job.value, what, person.value, {}))

  return {
    job,
    sweeps,
    circuit,
    at,
    trouble,
    refused,
    said,
    recorder,
    walk,
    stands,
    stand,
    toMove,
    wrong,
    suspected,
    ladder,
    done,
    open,
    record,
    putBack,
    cablesOff,
  }
}
