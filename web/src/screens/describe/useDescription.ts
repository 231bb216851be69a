import { computed, ref, shallowRef, watch } from 'vue'
import { ApiError, api, type DescribedView, type QuestionView } from '../../api/client'
import { usePerson } from '../usePerson'

/** Answers outlive a reload, until the machine is kept. */
const DRAFT = 'kelvok.draft.describe'

type Answers = Record<string, string | null>

/** A machine as it is described, question by question: the server says what is asked next. */
export function useDescription() {
  const answers = ref<Answers>(JSON.parse(sessionStorage.getItem(DRAFT) ?? '{}') as Answers)
  watch(answers, (now) => sessionStorage.setItem(DRAFT, JSON.stringify(now)))
  const view = shallowRef<DescribedView>()
  const trouble = ref<ApiError>()
  const busy = ref(false)
  /** A question that is gone back to. */
  const again = ref<string>()

  async function load(to: Answers) {
    busy.value = true
    trouble.value = undefined
    try {
      view.value = await api.describeMachine({ answers: to })
      answers.value = to
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error
    } finally {
      busy.value = false
    }
  }

  const questions = computed(() => view.value?.questions ?? [])
  const asked = computed<QuestionView | undefined>(() => {
    const id = again.value ?? view.value?.next
    return questions.value.find((q) => q.id === id)
  })
  const at = computed(() => questions.value.findIndex((q) => q.id === asked.value?.id))
  /** Those that were answered, or passed over. */
  const behind = computed(() => questions.value.filter((q) => q.id in answers.value))

  async function answer(choice: string | null) {
    const question = asked.value
    if (!question || busy.value) return
    await load({ ...answers.value, [question.id]: choice })
    if (!trouble.value) again.value = undefined
  }

  /** One question back. */
  function back() {
    const before = at.value < 0 ? questions.value.length - 1 : at.value - 1
    again.value = questions.value[before]?.id
  }

  function forget() {
    sessionStorage.removeItem(DRAFT)
    again.value = undefined
    return load({})
  }

  /** Keeps the machine under a name; its name in addresses. */
  async function keep(make: string, model: string): Promise<string | undefined> {
    busy.value = true
    trouble.value = undefined
    try {
      const named = await api.describeMachine({ answers: answers.value, make, model })
      const made = { by: usePerson().person.value, reason: 'Described by its looks' }
      const kept = await api.saveMachine(JSON.stringify(named.document), made)
      sessionStorage.removeItem(DRAFT)
      return kept.name
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error
      return undefined
    } finally {
      busy.value = false
    }
  }

  void load(answers.value)
  return { view, trouble, busy, again, asked, at, behind, questions, answer, back, forget, keep }
}
