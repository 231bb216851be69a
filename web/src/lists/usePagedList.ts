import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ApiError, type UnreadableView, type Wanted } from '../api/client'

interface Page {
  total: number
  size: number
  unreadable: UnreadableView[]
}

/** Typing is waited for, in milliseconds. */
const TYPED = 250

/**
 * A list that the server gives page by page: the words looked for and the page stand in the address,
 * so that a link leads to the same lines, and back is back.
 */
export function usePagedList<P extends Page>(fetch: (wanted: Wanted) => Promise<P>) {
  const route = useRoute()
  const router = useRouter()
  const page = shallowRef<P>()
  const trouble = ref('')
  let timer: number | undefined
  let asked = 0

  const words = computed({
    get: () => String(route.query.q ?? ''),
    set: (q: string | null) => go(q ?? '', 0),
  })
  const number = computed({
    get: () => Math.max(0, Number.parseInt(String(route.query.page ?? '1'), 10) - 1 || 0),
    set: (to) => go(words.value, to),
  })
  const pages = computed(() =>
    page.value ? Math.max(1, Math.ceil(page.value.total / page.value.size)) : 1,
  )

  function go(q: string, to: number) {
    const query = { ...route.query, q: q || undefined, page: to ? String(to + 1) : undefined }
    void router.replace({ query })
  }

  async function load() {
    window.clearTimeout(timer)
    const own = ++asked
    try {
      const found = await fetch({ q: words.value, page: number.value })
      // The answer to what was typed before comes late.
      if (own !== asked) return
      page.value = found
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      if (own !== asked) return
      trouble.value = error.passing ? `${error.message} Trying again.` : error.message
      if (error.passing) timer = window.setTimeout(() => void load(), 2000)
    }
  }

  watch([words, number], () => {
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void load(), TYPED)
  })
  onBeforeUnmount(() => window.clearTimeout(timer))

  return { page, words, number, pages, trouble, load }
}
