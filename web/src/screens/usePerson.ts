import { ref } from 'vue'
import { api } from '../api/client'

const KEPT = 'kelvok.person'
const people = ref<string[]>([])
const person = ref(localStorage.getItem(KEPT) ?? '')

/** Who records: a name from the shop's list, remembered on this device. */
export function usePerson() {
  async function load() {
    people.value = await api.people()
    if (!people.value.includes(person.value)) person.value = people.value[0] ?? ''
  }
  function choose(name: string) {
    person.value = name
    localStorage.setItem(KEPT, name)
  }
  return { people, person, load, choose }
}
