import { computed, onBeforeUnmount, onMounted, ref, shallowRef } from 'vue'
import {
  ApiError,
  api,
  type JobView,
  type RecordSoak,
  type SoakEntry,
  type SoakView,
} from '../../api/client'
import { useOutbox } from '../../api/useOutbox'
import { usePerson } from '../usePerson'

/** How often the server's clock is asked, in milliseconds. */
const LOOK_AGAIN = 10_000

/** A job's soak. The clock is the server's; between two looks it is counted on here. */
export function useSoak(id: string) {
  const job = shallowRef<JobView>()
  const view = shallowRef<SoakView>()
  const trouble = ref('')
  const refused = ref('')
  const passed = ref(0)
  let seenAt = 0
  const { person } = usePerson()

  function take(soak: SoakView) {
    view.value = soak
    seenAt = performance.now()
    passed.value = 0
  }

  async function load() {
    try {
      const [own, soak] = await Promise.all([api.job(id), api.soak(id)])
      job.value = own
      take(soak)
      trouble.value = ''
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      trouble.value = error.message
      if (error.passing) window.setTimeout(() => void load(), 2000)
    }
  }

  const outbox = useOutbox(
    `soak.${id}`,
    (entry: RecordSoak) => api.recordSoak(id, entry),
    async (answer) => {
      if (answer) take(answer)
      else await load()
      refused.value = ''
    },
  )

  const under = computed(() => {
    const standing = view.value?.standing
    return standing && !standing.ended ? standing : undefined
  })
  /** Seconds on the clock. */
  const seconds = computed(() => {
    const soak = view.value?.standing
    if (!soak) return 0
    const counted = (soak.minutes + soak.minutes_without) * 60
    return counted + (soak.running ? passed.value : 0)
  })

  let [ticks, looks]: (number | undefined)[] = []
  onMounted(async () => {
    await load()
    await outbox.resume()
    ticks = window.setInterval(() => (passed.value = (performance.now() - seenAt) / 1000), 500)
    looks = window.setInterval(() => {
      if (!outbox.busy.value && !document.hidden) void load()
    }, LOOK_AGAIN)
  })
  onBeforeUnmount(() => {
    window.clearInterval(ticks)
    window.clearInterval(looks)
  })

  /** Records something; whether it was taken. */
  async function enter(entry: SoakEntry): Promise<boolean> {
    refused.value = ''
    const outcome = await outbox.record({ by: person.value, entry })
    if (!outcome.kept) {
      refused.value = outcome.problem.sentence
      if (outcome.problem.status === 409) await load()
    }
    return outcome.kept
  }

  async function takeBack(entry: string) {
    refused.value = ''
    try {
      take(await api.voidSoak(id, entry, { by: person.value, reason: 'Undone' }))
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      refused.value = error.message
      await load()
    }
  }

  return { job, view, under, seconds, trouble, refused, outbox, enter, takeBack }
}
