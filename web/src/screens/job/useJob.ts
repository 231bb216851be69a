import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue'
import {
  ApiError,
  api,
  type CircuitView,
  type Condition,
  type DiagnosisView,
  type Engine,
  type JobState,
  type JobView,
  type ShownOfJob,
  type Standing,
  type Strategy,
} from '../../api/client'
import type { Answered } from './useRecorder'

/** A job, the circuit in the condition set now, and what follows from its evidence. */
export function useJob(id: string) {
  const kept = `kelvok.condition.${id}`
  const keptStrategy = 'kelvok.strategy'
  const job = ref<JobView>()
  /** The circuit shown, as it is drawn. */
  const drawn = ref<CircuitView>()
  const trace = computed(() => (drawn.value?.shape === 'track' ? drawn.value : undefined))
  const diagnosis = ref<DiagnosisView>()
  /** Id of the circuit shown; none before the first answer. */
  const ownCircuit = ref<string>()
  const condition = ref<Condition>({})
  const ownEngine = ref<Engine>('stopped')
  /** By which strategy to go on. */
  const strategy = ref((localStorage.getItem(keptStrategy) ?? 'best-split') as Strategy)
  const trouble = ref('')
  /** Milliseconds from the last control moved to its values on screen. */
  const lag = ref(0)

  /** Whoever chooses another sees its picture; an answer from the server brings its own. */
  const circuit = computed({
    get: () => ownCircuit.value ?? '',
    set: (id) => {
      ownCircuit.value = id
      void tolerant(refreshTrace)
    },
  })
  const engine = computed({
    get: () => ownEngine.value,
    set: (state) => {
      ownEngine.value = state
      void tolerant(refreshTrace)
    },
  })

  async function tolerant(work: () => Promise<void>) {
    try {
      await work()
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error.message
      if (error.passing) window.setTimeout(() => void tolerant(work), 2000)
    }
  }

  /** Where the controls were left on this device. */
  function left(): Condition | undefined {
    const stored = sessionStorage.getItem(kept)
    return stored ? (JSON.parse(stored) as Condition) : undefined
  }

  const at = () => ({ set: condition.value, engine: engine.value })
  /** What is shown now; before the first answer, what was left or the server thinks best. */
  const shown = (): ShownOfJob => {
    const set = job.value ? condition.value : left()
    return {
      at: set && { set, engine: engine.value },
      circuit: ownCircuit.value,
      strategy: strategy.value,
    }
  }

  /** What the picture was drawn for. */
  const drawnFor = shallowRef<Standing>()
  /** Whether the picture is of the machine as it is set now: else what it says to mind is not of it. */
  const fresh = computed(() => JSON.stringify(drawnFor.value) === JSON.stringify(at()))
  function draw(view: CircuitView, of: Standing) {
    drawn.value = view
    drawnFor.value = { set: { ...of.set }, engine: of.engine }
  }

  let asked = 0
  async function refreshTrace() {
    const mine = ++asked
    if (!ownCircuit.value) return
    const of = at()
    const view = await api.trace(id, circuit.value, of)
    // A slower answer to an earlier question is not shown over a later one.
    if (mine === asked) draw(view, of)
  }

  async function refreshDiagnosis() {
    diagnosis.value = await api.diagnosis(id, condition.value, strategy.value)
  }

  /** Shows a state; its picture only if nothing else was asked for meanwhile. */
  function take(state: JobState, picture = true) {
    const { drawn: own, diagnosis: judged, condition: set, engine: turns } = state.follows
    if (!job.value) {
      condition.value = set
      ownEngine.value = turns
      ownCircuit.value = own.circuit
    }
    job.value = state.job
    if (picture) draw(own, at())
    diagnosis.value = judged
  }

  /** Reads everything again. */
  async function refresh() {
    await tolerant(async () => {
      const mine = ++asked
      const state = await api.jobState(id, shown())
      take(state, mine === asked)
    })
  }

  /** After something was recorded or taken back: what follows came with the answer, or is asked for. */
  async function recorded(of?: Answered) {
    if (!of?.answer.state) return refresh()
    const same = JSON.stringify(of.shown) === JSON.stringify(shown())
    trouble.value = ''
    // A picture that was asked for before has not what was recorded.
    if (same) asked++
    take(of.answer.state, same)
    if (!same) await tolerant(refreshTrace)
  }

  async function move(control: string, position: string) {
    const began = performance.now()
    condition.value = { ...condition.value, [control]: position }
    sessionStorage.setItem(kept, JSON.stringify(condition.value))
    await tolerant(refreshTrace)
    requestAnimationFrame(() => (lag.value = performance.now() - began))
    // Until something was heard the plan is for the condition set now.
    if (diagnosis.value?.reproduce) await tolerant(refreshDiagnosis)
  }

  /** Sets every control at once. */
  async function setAll(wanted: Condition) {
    condition.value = { ...condition.value, ...wanted }
    sessionStorage.setItem(kept, JSON.stringify(condition.value))
    await tolerant(refreshTrace)
  }

  /** The machine stands like this: something was just done on it there. What follows comes with the answer. */
  function stand(at: Standing) {
    condition.value = { ...condition.value, ...at.set }
    ownEngine.value = at.engine
    sessionStorage.setItem(kept, JSON.stringify(condition.value))
  }

  /** Springs every held control back. */
  function letGo() {
    for (const control of job.value?.controls ?? []) {
      const at = control.positions.find((p) => p.id === condition.value[control.id])
      if (at?.returns_to) void move(control.id, at.returns_to)
    }
  }

  /** What somebody else records shows here too, within two seconds. */
  let looking = false
  async function lookAgain() {
    if (!job.value || document.hidden || looking) return
    looking = true
    try {
      const { mark } = await api.jobMark(id)
      if (job.value.mark !== mark) await refresh()
    } catch (error) {
      // A server that is away is told of by whoever asks it for something.
      if (!(error instanceof ApiError)) throw error
    } finally {
      looking = false
    }
  }
  const clock = window.setInterval(() => void lookAgain(), 1500)
  onScopeDispose(() => window.clearInterval(clock))

  watch(strategy, (chosen) => {
    localStorage.setItem(keptStrategy, chosen)
    void tolerant(refreshDiagnosis)
  })

  return {
    job,
    drawn,
    fresh,
    trace,
    diagnosis,
    circuit,
    condition,
    engine,
    strategy,
    trouble,
    lag,
    shown,
    refresh,
    recorded,
    move,
    setAll,
    stand,
    letGo,
  }
}
