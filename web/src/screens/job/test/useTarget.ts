import { computed, ref, watch, type Ref } from 'vue'
import type {
  Caution,
  Condition,
  DiagnosisView,
  Engine,
  Instrument,
  PointView,
  SetUpView,
  TestView,
  TraceView,
} from '../../../api/client'

/** What is to be measured now: a test of the plan, or a point that the mechanic chose. */
export interface Target {
  test: TestView | undefined
  instrument: Instrument
  red: PointView
  black: PointView
  condition: Condition
  engine: Engine
  setUp: SetUpView[]
  /** What is still off and must go back on first. */
  putBack: SetUpView[]
  /** What to mind at it; not known until the server has said. */
  cautions: Caution[] | undefined
  expected: number | undefined
  healthy: number | undefined
}

/** A measurement that the mechanic put together. */
export type Own = Pick<Target, 'instrument' | 'red' | 'black' | 'setUp'>

/** Whether the starter is what is listened to in a test. */
export function listens(test: TestView | undefined): boolean {
  return test?.action.kind === 'try' && test.action.attend === 'starter'
}

const has = (all: SetUpView[], one: SetUpView) =>
  all.some((s) => JSON.stringify(s.entry) === JSON.stringify(one.entry))

export function useTarget(
  trace: Ref<TraceView | undefined>,
  diagnosis: Ref<DiagnosisView | undefined>,
  condition: Ref<Condition>,
  engine: Ref<Engine>,
  /** Whether the track is of the machine as it is set now. */
  fresh: Ref<boolean>,
  /** What is still off. */
  off: Ref<SetUpView[]>,
) {
  /** Terminal of a point chosen on the track; none while the plan is followed. */
  const chosen = ref<string>()
  /** Something else that is to be measured. */
  const own = ref<Own>()
  watch(chosen, (point) => {
    if (point) own.value = undefined
  })
  /** A test of the plan's that somebody asked for out of its order, until something is recorded. */
  const asked = ref<TestView>()
  watch(
    () => diagnosis.value?.judgements.length,
    () => (asked.value = undefined),
  )
  const skipped = ref<string[]>([])
  /** A wire off or a jumper on is there to be measured with; what a test took off goes back first. */
  const deliberate = computed(() =>
    off.value.every((s) => s.entry.kind === 'jumper' || s.entry.kind === 'wire-off'),
  )
  const known = computed(() => fresh.value && off.value.length === 0)
  const key = (t: TestView) => JSON.stringify([t.action, t.condition, t.set_up])

  const points = computed(() => trace.value?.points ?? [])
  const negative = computed(() => points.value.at(-1)?.point)
  /** What is complained of comes first. */
  const planned = computed(() => {
    const { reproduce, tests } = diagnosis.value ?? {}
    return [asked.value, reproduce, ...(tests ?? [])].filter((t) => t != null)
  })
  const test = computed(() => planned.value.find((t) => !skipped.value.includes(key(t))))

  const target = computed<Target | undefined>(() => {
    if (own.value) {
      return {
        ...own.value,
        setUp: [...off.value.filter((s) => !has(own.value!.setUp, s)), ...own.value.setUp],
        test: undefined,
        condition: condition.value,
        engine: engine.value,
        putBack: [],
        cautions: undefined,
        expected: undefined,
        healthy: undefined,
      }
    }
    const point = points.value.find((p) => p.point.terminal === chosen.value)
    if (point && negative.value && point.point.terminal !== negative.value.terminal) {
      return {
        test: undefined,
        instrument: 'voltmeter',
        red: point.point,
        black: negative.value,
        condition: condition.value,
        engine: engine.value,
        setUp: deliberate.value ? off.value : [],
        putBack: deliberate.value ? [] : off.value,
        cautions: known.value ? trace.value?.cautions : undefined,
        expected: known.value ? (point.expected ?? undefined) : undefined,
        healthy: known.value ? (point.healthy ?? undefined) : undefined,
      }
    }
    const next = test.value
    return (
      (next?.action.kind === 'measure' && {
        test: next,
        instrument: next.action.instrument,
        red: next.action.red,
        black: next.action.black,
        condition: next.condition,
        engine: next.engine,
        setUp: next.set_up,
        putBack: next.put_back,
        cautions: next.cautions,
        expected: undefined,
        healthy: undefined,
      }) ||
      undefined
    )
  })

  /** A test of the plan that is tried or looked at, while it is the thing to do. */
  const tried = computed(() =>
    chosen.value || own.value || test.value?.action.kind === 'measure' ? undefined : test.value,
  )

  /** The point that the track marks. */
  const marked = computed(() => {
    if (chosen.value) return chosen.value
    const next = target.value
    return next?.instrument === 'voltmeter' ? next.red.terminal : undefined
  })

  /** Moves the choice along the track; from the plan, begins at its point. */
  function step(by: 1 | -1, labelledOnly = false) {
    const stops = points.value.filter(
      (p, i) => i < points.value.length - 1 && (p.major || !labelledOnly),
    )
    const now = chosen.value ?? target.value?.red.terminal
    const at = stops.findIndex((p) => p.point.terminal === now)
    const next = stops[at < 0 ? 0 : Math.min(Math.max(at + by, 0), stops.length - 1)]
    chosen.value = next?.point.terminal
  }

  /** After a reading at a chosen point: on along the track while it is sound, else to the plan. */
  function walkOn() {
    const at = points.value.find((p) => p.point.terminal === chosen.value)
    if (at?.found?.sound) step(1, true)
    else chosen.value = undefined
  }

  /** Back to what the plan asks for. */
  function toPlan() {
    chosen.value = undefined
    own.value = undefined
  }

  /** Goes to a test that is not the next in the plan's order. */
  function askFor(other: TestView) {
    toPlan()
    skipped.value = skipped.value.filter((k) => k !== key(other))
    asked.value = other
  }

  function skip() {
    // What somebody asked for out of its order is let be: back to where they were.
    if (asked.value) asked.value = undefined
    else if (test.value) skipped.value.push(key(test.value))
  }

  return { chosen, own, target, tried, marked, step, walkOn, toPlan, askFor, asked, skip }
}
