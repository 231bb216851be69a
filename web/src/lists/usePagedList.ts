import { computed, onBeforeUnmount, onMounted, reactive, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ApiError, type UnreadableView, type Wanted } from '../api/client'

interface Page {
  total: number
  size: number
  unreadable: UnreadableView[]
}

/** What a list shows, and the ways to another part of it. */
export interface Listed {
  page: Page | undefined
  words: string
  number: number
  pages: number
  trouble: string
  go: (words: string, page: number) => void
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

  const words = computed(() => String(route.query.q ?? ''))
  const number = computed(() =>
    Math.max(0, Number.parseInt(String(route.query.page ?? '1'), 10) - 1 || 0),
  )
  const pages = computed(() =>
    page.value ? Math.max(1, Math.ceil(page.value.total / page.value.size)) : 1,
  )

  /** Looks for these words, on this page of them. */
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
  onMounted(load)
  onBeforeUnmount(() => window.clearTimeout(timer))

  return reactive({ page, words, number, pages, trouble, go, load })
}
