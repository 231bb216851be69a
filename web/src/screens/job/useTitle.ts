import { watch, type Ref } from 'vue'
import type { JobView } from '../../api/client'

/** A job's tab is told apart from others in the row. */
export function useTitle(job: Ref<JobView | undefined>) {
  watch(job, (now) => {
    if (!now) return
    const machine = [now.make, now.model, now.tag].filter(Boolean).join(' ')
    document.title = `Job ${now.number} · ${machine} · Kelvok`
  })
}
