import { computed, ref, watch } from 'vue'
import {
  ApiError,
  api,
  type CircuitView,
  type Condition,
  type DiagnosisView,
  type Engine,
  type JobView,
  type Strategy,
} from '../../api/client'
import { lower } from '../../words/units'

/** A job, the circuit in the condition set now, and what follows from its evidence. */
export function useJob(id: string) {
  const kept = `kelvok.condition.${id}`
  const keptStrategy = 'kelvok.strategy'
  const job = ref<JobView>()
  /** The circuit shown, as it is drawn. */
  const drawn = ref<CircuitView>()
  const trace = computed(() => (drawn.value?.shape === 'track' ? drawn.value : undefined))
  const diagnosis = ref<DiagnosisView>()
  const circuit = ref('start')
  const condition = ref<Condition>({})
  const engine = ref<Engine>('stopped')
  /** By which strategy to go on. */
  const strategy = ref((localStorage.getItem(keptStrategy) ?? 'best-split') as Strategy)
  const trouble = ref('')
  /** Milliseconds from the last control moved to its values on screen. */
  const lag = ref(0)

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

  function startCondition(view: JobView): Condition {
    const rest = Object.fromEntries(view.controls.map((c) => [c.id, c.rest]))
    const last = view.evidence.filter((e) => !e.voided).at(-1)
    const stored = sessionStorage.getItem(kept)
    return { ...rest, ...(stored ? (JSON.parse(stored) as Condition) : last?.entry.condition) }
  }

  const at = () => ({ set: condition.value, engine: engine.value })

  let asked = 0
  async function refreshTrace() {
    const mine = ++asked
    const view = await api.trace(id, circuit.value, at())
    // A slower answer to an earlier question is not shown over a later one.
    if (mine === asked) drawn.value = view
  }

  async function refreshDiagnosis() {
    diagnosis.value = await api.diagnosis(id, condition.value, strategy.value)
  }

  /** Reads everything again, after something was recorded. */
  async function refresh() {
    await tolerant(async () => {
      const view = await api.job(id)
      if (!job.value) condition.value = startCondition(view)
      job.value = view
      // A machine with a rope has no start circuit.
      if (!view.circuits.some((c) => c.id === circuit.value)) {
        circuit.value = view.circuits[0]?.id ?? circuit.value
      }
      // Shown together: what stands on the track and what follows from it.
      const mine = ++asked
      const [picture, judged] = await Promise.all([
        api.trace(id, circuit.value, at()),
        api.diagnosis(id, condition.value, strategy.value),
      ])
      if (mine === asked) drawn.value = picture
      diagnosis.value = judged
    })
  }

  async function move(control: string, position: string) {
    const began = performance.now()
    condition.value = { ...condition.value, [control]: position }
    sessionStorage.setItem(kept, JSON.stringify(condition.value))
    await tolerant(refreshTrace)
    requestAnimationFrame(() => (lag.value = performance.now() - began))
    // Until something was heard the plan is for the condition set now.
    if (diagnosis.value?.listen) await tolerant(refreshDiagnosis)
  }

  /** Sets every control at once. */
  async function setAll(wanted: Condition) {
    condition.value = { ...condition.value, ...wanted }
    sessionStorage.setItem(kept, JSON.stringify(condition.value))
    await tolerant(refreshTrace)
  }

  /** Springs every held control back. */
  function letGo() {
    for (const control of job.value?.controls ?? []) {
      const at = control.positions.find((p) => p.id === condition.value[control.id])
      if (at?.returns_to) void move(control.id, at.returns_to)
    }
  }

  watch([circuit, engine], () => void tolerant(refreshTrace))
  watch(strategy, (chosen) => {
    localStorage.setItem(keptStrategy, chosen)
    void tolerant(refreshDiagnosis)
  })

  /** What the last entry left unplugged; what was only said leaves the machine as it was. */
  const toUndo = computed(() => {
    const said = ['note', 'worked-on']
    const done = job.value?.evidence.filter(
      (e) => !e.voided && e.entry.source !== 'told' && !said.includes(e.entry.observation.kind),
    )
    return (done?.at(-1)?.entry.set_up ?? []).flatMap((s) => {
      if (s.kind === 'battery-off') return ['battery clamp off']
      if (s.kind !== 'unplugged' && s.kind !== 'lamp-in-place') return []
      const off = `${lower(job.value?.part_names[s.connector] ?? '')} off`
      return [s.kind === 'unplugged' ? off : `${off}, lamp in place`]
    })
  })

  return {
    job,
    drawn,
    trace,
    diagnosis,
    circuit,
    condition,
    engine,
    strategy,
    trouble,
    lag,
    toUndo,
    refresh,
    move,
    setAll,
    letGo,
  }
}
