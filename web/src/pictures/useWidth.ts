import { onBeforeUnmount, onMounted, ref, type Ref } from 'vue'

/** The width of an element in pixels, as it changes. */
export function useWidth(element: Ref<HTMLElement | null>, first: number): Ref<number> {
  const width = ref(first)
  const observer = new ResizeObserver(([entry]) => {
    if (entry) width.value = Math.round(entry.contentRect.width)
  })
  onMounted(() => element.value && observer.observe(element.value))
  onBeforeUnmount(() => observer.disconnect())
  return width
}
