import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import {
  ApiError,
  api,
  type Edit,
  type EditedView,
  type Edits,
  type MachineDetail,
} from '../src/api/client'
import { useEdit } from '../src/screens/edit/useEdit'

const out = (wire: string): Edit => ({ kind: 'take-out-wire', wire })

/** A server that knows of w1 to w3 and of nothing else. */
function seen(edits: Edits): EditedView {
  const steps = edits.steps as { wire: string }[]
  const at = steps.findIndex((s) => !['w1', 'w2', 'w3'].includes(s.wire))
  if (at >= 0) {
    const sentence = `There is no wire "${steps[at]!.wire}".`
    const errors = [{ field: `/steps/${at}`, sentence }]
    throw new ApiError(422, { status: 422, title: '', detail: sentence, errors })
  }
  const told = steps.map((s) => `Took out: ${s.wire}`)
  return { told, wires: [], parts: [], terminals: [], problems: [], sound: true, difference: null }
}

let revision = 1
let asked: Edits[] = []

beforeEach(() => {
  revision = 1
  asked = []
  localStorage.clear()
  vi.spyOn(api, 'machine').mockImplementation(() =>
    Promise.resolve({ name: 'm', revision } as MachineDetail),
  )
  vi.spyOn(api, 'reviewEdit').mockImplementation((_, edits) => {
    asked.push(edits)
    return Promise.resolve(edits).then(seen)
  })
  vi.spyOn(api, 'keepEdit').mockImplementation(() => {
    revision += 1
    return Promise.resolve({ revision_id: '', revision })
  })
})
afterEach(() => vi.restoreAllMocks())

async function opened() {
  const own = useEdit('m')
  await own.load()
  return own
}

describe('a drawing is edited step by step', () => {
  test('what is done is undone and done again, and a new step forgets what was undone', async () => {
    const own = await opened()
    await own.add(out('w1'))
    await own.add(out('w2'))
    await own.undo()
    expect([own.steps.value, own.undone.value]).toEqual([[out('w1')], [out('w2')]])
    await own.redo()
    expect([own.steps.value.length, own.undone.value.length]).toEqual([2, 0])
    await own.undo()
    await own.add(out('w3'))
    expect([own.steps.value, own.undone.value]).toEqual([[out('w1'), out('w3')], []])
    await own.undo()
    await own.undo()
    await own.undo()
    expect(own.steps.value).toEqual([])
  })

  test('a step that cannot be taken is not taken, and says why', async () => {
    const own = await opened()
    await own.add(out('w1'))
    expect(await own.add(out('w9'))).toBe(false)
    expect(own.trouble.value?.message).toContain('w9')
    expect(own.steps.value).toEqual([out('w1')])
    expect(own.view.value?.told).toEqual(['Took out: w1'])
    await own.add(out('w2'))
    expect(own.trouble.value).toBeUndefined()
  })

  test('what was changed outlives a reload, until it is kept', async () => {
    const own = await opened()
    await own.setSource('manual')
    await own.add(out('w1'))
    const again = await opened()
    expect([again.steps.value, again.source.value]).toEqual([[out('w1')], 'manual'])
    await again.keep('why')
    expect([again.done.value, again.steps.value.length]).toEqual([2, 0])
    expect(asked.at(-1)).toMatchObject({ revision: 2, steps: [] })
    expect((await opened()).steps.value).toEqual([])
  })

  test('steps that a newer drawing does not take are named, and the others stay', async () => {
    const draft = { source: 'traced', steps: [out('w7'), out('w1'), out('w8')] }
    localStorage.setItem('kelvok.draft.edit.m', JSON.stringify(draft))
    const own = await opened()
    expect([own.steps.value, own.view.value?.told]).toEqual([[out('w1')], ['Took out: w1']])
    expect(own.trouble.value?.message).toMatch(/w7.*w8/)
    localStorage.setItem('kelvok.draft.edit.m', '{not JSON')
    expect((await opened()).steps.value).toEqual([])
  })

  test('a server that is away takes nothing from what was changed', async () => {
    localStorage.setItem('kelvok.draft.edit.m', JSON.stringify({ steps: [out('w1')] }))
    vi.mocked(api.reviewEdit).mockRejectedValueOnce(new ApiError(0, undefined))
    const own = await opened()
    expect(own.trouble.value?.status).toBe(0)
    await own.load()
    expect(own.steps.value).toEqual([out('w1')])
  })

  test('where somebody kept a newer drawing, the changes go on it once asked', async () => {
    const own = await opened()
    await own.add(out('w1'))
    const newer = ApiError.of(409, 'Somebody changed this drawing meanwhile.')
    vi.mocked(api.keepEdit).mockRejectedValueOnce(newer)
    expect(await own.keep('why')).toBe(false)
    expect([own.trouble.value?.status, own.steps.value]).toEqual([409, [out('w1')]])
    revision = 5
    await own.load()
    expect(own.trouble.value).toBeUndefined()
    expect(asked.at(-1)).toMatchObject({ revision: 5, steps: [out('w1')] })
  })

  test('a wire list comes in as steps, and one of nothing changes nothing', async () => {
    const read = vi.spyOn(api, 'readWireList').mockResolvedValue([out('w2'), out('w3')])
    const own = await opened()
    await own.readList('wire,from,to')
    expect(own.steps.value).toEqual([out('w2'), out('w3')])
    read.mockResolvedValue([])
    await own.readList('wire,from,to')
    expect(own.steps.value.length).toBe(2)
  })
})
