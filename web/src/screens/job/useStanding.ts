import { computed, type Ref } from 'vue'
import type { JobView } from '../../api/client'

/**
 * Where a job stands: whether anything may be recorded, what was kept as its fault, and whether that
 * is still to be repaired.
 */
export function useStanding(job: Ref<JobView | undefined>, chosen: Ref<unknown>) {
  const open = computed(() => job.value?.status === 'open')
  const verdict = computed(() => job.value?.verdicts.filter((v) => !v.voided).at(-1))
  const repaired = computed(() =>
    job.value?.evidence.some((e) => !e.voided && e.entry.observation.kind === 'repaired'),
  )
  const toRepair = computed(
    () =>
      verdict.value?.units.some((u) => u.kind !== 'nothing') && !repaired.value && !chosen.value,
  )
  return { open, verdict, toRepair }
}
