import { onBeforeUnmount, ref } from 'vue'

/** A stopwatch in seconds; nothing while it was never started. */
export function useStopwatch() {
  const seconds = ref<number>()
  const running = ref(false)
  let began = 0
  let timer: number | undefined

  const now = () => Math.round((performance.now() - began) / 100) / 10
  function stop() {
    if (!running.value) return
    seconds.value = now()
    running.value = false
    window.clearInterval(timer)
  }
  function toggle() {
    if (running.value) return stop()
    began = performance.now()
    seconds.value = 0
    running.value = true
    timer = window.setInterval(() => (seconds.value = now()), 100)
  }
  function reset() {
    stop()
    seconds.value = undefined
  }
  onBeforeUnmount(stop)
  return { seconds, running, toggle, stop, reset }
}
