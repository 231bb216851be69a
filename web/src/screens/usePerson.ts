import { computed, ref } from 'vue'
import { ApiError, api } from '../api/client'

const KEPT = 'kelvok.person'
const people = ref<string[]>([])
const person = ref(localStorage.getItem(KEPT) ?? '')

/** Who records: a name from the shop's list, chosen once on this device and never for anybody. */
export function usePerson() {
  /** Whether somebody has to say who works here. */
  const unknown = computed(() => people.value.length > 0 && !people.value.includes(person.value))

  async function load() {
    try {
      people.value = await api.people()
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      window.setTimeout(() => void load(), 2000)
    }
  }
  function choose(name: string) {
    person.value = name
    localStorage.setItem(KEPT, name)
  }
  return { people, person, unknown, load, choose }
}
