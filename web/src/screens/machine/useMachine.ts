import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter, type LocationQueryRaw } from 'vue-router'
import {
  ApiError,
  api,
  type Condition,
  type ConditionView,
  type Control,
  type Engine,
  type MachineDetail,
  type SnapshotView,
  type Standing,
} from '../../api/client'
import { ENGINE, engineStates } from '../../words/engine'

/** The engine's state as one more control at the end of the station. */
function engineControl(controls: Control[], rope: boolean): Control {
  const free = !controls.some((c) => c.letter === 'e')
  return {
    id: 'engine',
    name: 'Engine',
    letter: free ? 'e' : '',
    positions: engineStates(rope),
    rest: 'stopped',
  }
}

/** Where all of a condition's controls stand, as query of an address. */
export function conditionQuery(controls: Control[], at: Standing): LocationQueryRaw {
  const moved = controls.filter((c) => at.set[c.id] !== c.rest)
  return {
    set: moved.map((c) => `${c.id}:${at.set[c.id]}`),
    engine: at.engine === 'stopped' ? undefined : at.engine,
  }
}

/** A machine and the condition that its address holds. */
export function useMachine(name: string) {
  const route = useRoute()
  const router = useRouter()
  const detail = ref<MachineDetail>()
  const snapshot = ref<SnapshotView>()
  const trouble = ref('')
  /** Milliseconds from the last control moved to what it does on screen. */
  const lag = ref(0)

  const rest = computed<Condition>(() =>
    Object.fromEntries(detail.value?.controls.map((c) => [c.id, c.rest]) ?? []),
  )
  /** What is on its way into the address: the next move starts from there. */
  const moving = shallowRef<Standing>()
  const standing = computed<Standing>(() => {
    if (moving.value) return moving.value
    const asked = [route.query.set ?? []].flat().map((s) => String(s).split(':'))
    const known = asked.filter(([control, position]) =>
      detail.value?.controls.some(
        (c) => c.id === control && c.positions.some((p) => p.id === position),
      ),
    )
    const engine = ENGINE.find((e) => e.id === route.query.engine)?.id ?? 'stopped'
    return { set: { ...rest.value, ...Object.fromEntries(known) }, engine }
  })
  const controls = computed(() => {
    const own = detail.value?.controls ?? []
    return [...own, engineControl(own, !!detail.value?.recoil)]
  })
  /** Every control and the engine, for the station. */
  const stand = computed<Condition>(() => ({
    ...standing.value.set,
    engine: standing.value.engine,
  }))

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

  let asked = 0
  async function look() {
    const mine = ++asked
    const view = await api.snapshot(name, standing.value)
    // A slower answer to an earlier question is not shown over a later one.
    if (mine === asked) snapshot.value = view
  }

  async function load() {
    await tolerant(async () => {
      detail.value = await api.machine(name)
      await look()
    })
  }

  async function go(at: Standing) {
    const query = { ...route.query, ...conditionQuery(detail.value?.controls ?? [], at) }
    moving.value = at
    try {
      await router.replace({ query })
    } finally {
      if (moving.value === at) moving.value = undefined
    }
  }

  async function move(control: string, position: string) {
    const began = performance.now()
    const { set, engine } = standing.value
    await go(
      control === 'engine'
        ? { set, engine: position as Engine }
        : { set: { ...set, [control]: position }, engine },
    )
    requestAnimationFrame(() => (lag.value = performance.now() - began))
  }

  watch(
    () => JSON.stringify(standing.value),
    () => detail.value && void tolerant(look),
  )

  /** The name of the condition that is set now, if it has one. */
  const named = computed(() =>
    detail.value?.conditions.find(
      (c) =>
        c.engine === standing.value.engine &&
        JSON.stringify(c.set) === JSON.stringify(sorted(standing.value.set)),
    ),
  )

  return { detail, snapshot, standing, controls, stand, trouble, lag, named, load, go, move }
}

/** As the server sends them: by control id. */
function sorted(set: Condition): Condition {
  return Object.fromEntries(Object.entries(set).sort(([a], [b]) => (a < b ? -1 : 1)))
}

export function standingOf(condition: ConditionView): Standing {
  return { set: condition.set, engine: condition.engine }
}
