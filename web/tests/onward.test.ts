import { afterEach, describe, expect, test } from 'vitest'
import { ref } from 'vue'
import { useOnward } from '../src/screens/job/useOnward'

const CARD = '<div class="next"><section class="card" id="card" tabindex="-1"></section></div>'
const REPAIR =
  '<div class="card-first"><section class="repair" id="repair" tabindex="-1"></section></div>'
const section = (id: string, name: string, role = '') =>
  `<section class="${name}" id="${id}" role="${role}" tabindex="-1"></section>`

const { toCard, done } = useOnward(ref(false))
const at = () => document.activeElement?.id

afterEach(() => {
  document.body.innerHTML = ''
})

describe('once something is recorded the focus goes', () => {
  const cases: [string, string, string][] = [
    ['the card', CARD, 'card'],
    ['two that cannot both hold', section('doubt', 'doubt', 'alert') + CARD, 'doubt'],
    [
      'the card past a reading that fits nothing',
      section('doubt', 'doubt', 'status') + CARD,
      'card',
    ],
    ['the repair', section('verdict', 'verdict') + REPAIR + CARD, 'repair'],
    ['a fault found', section('verdict', 'verdict asks') + CARD, 'verdict'],
    ['the card past what is almost sure', section('verdict', 'verdict') + CARD, 'card'],
    ['the verdict once no card is left', section('verdict', 'verdict'), 'verdict'],
  ]
  test.each(cases)('to %s', async (_, page, goes) => {
    document.body.innerHTML = page
    await done()
    expect(at()).toBe(goes)
  })

  test('nowhere from a field, where the next reading is typed', async () => {
    document.body.innerHTML = `${CARD}<input id="field">`
    document.getElementById('field')!.focus()
    await done()
    expect(at()).toBe('field')
  })

  test('nowhere from what stands beside the card', async () => {
    document.body.innerHTML = `${CARD}<button id="other"></button>`
    document.getElementById('other')!.focus()
    await done()
    expect(at()).toBe('other')
  })
})

test('the skip link leads to the card, whatever else is asked, else to the repair', () => {
  document.body.innerHTML = section('doubt', 'doubt', 'alert') + REPAIR + CARD
  toCard()
  expect(at()).toBe('card')
  document.querySelector('.next')!.remove()
  toCard()
  expect(at()).toBe('repair')
})
