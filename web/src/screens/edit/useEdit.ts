import { computed, ref, shallowRef } from 'vue'
import {
  ApiError,
  api,
  type Edit,
  type EditedView,
  type Edits,
  type MachineDetail,
} from '../../api/client'
import { usePerson } from '../usePerson'

type Source = NonNullable<Edits['source']>
interface Draft {
  source: Source
  steps: Edit[]
}

/** Which step was refused. */
function stepOf(error?: ApiError): number | undefined {
  const step = /^\/steps\/(\d+)$/.exec(error?.problem?.errors?.[0]?.field ?? '')
  return step ? Number(step[1]) : undefined
}

/** A machine's drawing, changed step by step. The steps outlive a reload until they are kept; the server says
 * what they come to. */
export function useEdit(name: string) {
  const { person } = usePerson()
  const kept = `kelvok.draft.edit.${name}`
  const steps = ref<Edit[]>([])
  const source = ref<Source>('traced')
  /** What was undone, the last first. */
  const undone = ref<Edit[]>([])
  const detail = shallowRef<MachineDetail>()
  const view = shallowRef<EditedView>()
  const trouble = ref<ApiError>()
  const busy = ref(false)
  /** The revision that it was kept as. */
  const done = ref<number>()

  function store() {
    const draft: Draft = { source: source.value, steps: steps.value }
    if (steps.value.length) localStorage.setItem(kept, JSON.stringify(draft))
    else localStorage.removeItem(kept)
  }

  function stored(): Draft {
    try {
      const draft = JSON.parse(localStorage.getItem(kept) ?? '{}') as Partial<Draft>
      return { source: draft.source ?? 'traced', steps: draft.steps ?? [] }
    } catch {
      return { source: 'traced', steps: [] }
    }
  }

  const asked = (to: Edit[]): Edits => ({
    revision: detail.value?.revision ?? 0,
    source: source.value,
    steps: to,
  })

  /** Whether what was asked for went well. */
  async function tried(work: () => Promise<void>): Promise<boolean> {
    busy.value = true
    trouble.value = undefined
    try {
      await work()
      return true
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error
      return false
    } finally {
      busy.value = false
    }
  }

  let latest = 0
  /** Steps that cannot be taken are not taken: what stood before stays. */
  function take(to: Edit[]): Promise<boolean> {
    return tried(async () => {
      const mine = ++latest
      const seen = await api.reviewEdit(name, asked(to))
      if (mine !== latest) return
      view.value = seen
      steps.value = to
      done.value = undefined
      store()
    })
  }

  async function add(...more: Edit[]): Promise<boolean> {
    const taken = await take([...steps.value, ...more])
    if (taken) undone.value = []
    return taken
  }

  async function undo() {
    const last = steps.value.at(-1)
    if (last && !busy.value && (await take(steps.value.slice(0, -1))))
      undone.value = [last, ...undone.value]
  }

  async function redo() {
    const [next, ...rest] = undone.value
    if (next && !busy.value && (await take([...steps.value, next]))) undone.value = rest
  }

  async function load() {
    await tried(async () => {
      detail.value = await api.machine(name)
    })
    if (!detail.value) return
    const draft = stored()
    source.value = draft.source
    // A drawing that changed meanwhile may not take every one of them any more: the others are.
    let left = draft.steps
    const out: string[] = []
    while (!(await take(left))) {
      const at = stepOf(trouble.value)
      if (at === undefined || at >= left.length) return
      out.push(trouble.value?.sentence ?? '')
      left = left.filter((_, i) => i !== at)
    }
    if (out.length)
      trouble.value = ApiError.of(
        422,
        `Not everything you changed fits this drawing, and was left out: ${out.join(' ')}`,
      )
  }

  /** A list is of the drawing as it is kept, so that nothing may have been changed yet. */
  async function readList(text: string) {
    let found: Edit[] = []
    const read = await tried(async () => {
      found = await api.readWireList(name, text)
    })
    return read && found.length ? take(found) : read
  }

  async function setSource(to: Source) {
    source.value = to
    if (steps.value.length) await take(steps.value)
  }

  function keep(reason: string) {
    return tried(async () => {
      const now = await api.keepEdit(name, asked(steps.value), { by: person.value, reason })
      steps.value = []
      undone.value = []
      store()
      detail.value = await api.machine(name)
      view.value = await api.reviewEdit(name, asked([]))
      done.value = now.revision
    })
  }

  const errors = computed(() => view.value?.problems.filter((p) => !p.warning) ?? [])

  return {
    steps,
    source,
    undone,
    detail,
    view,
    errors,
    trouble,
    busy,
    done,
    add,
    undo,
    redo,
    load,
    readList,
    setSource,
    keep,
    forget: () => take([]),
  }
}
