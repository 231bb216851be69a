import { select } from 'd3-selection'
import { zoom, zoomIdentity, type ZoomTransform } from 'd3-zoom'
import { ref, watch, type Ref } from 'vue'

/** At this scale the smallest words are 13 pixels high; under it they cannot be read at arm's length. */
const READABLE = 1.1

/** Zooming and moving a picture by wheel, pinch, drag and buttons. */
export function useZoom(svg: Ref<SVGSVGElement | null>, size: () => [number, number]) {
  const transform = ref('')
  const scale = ref(1)
  const behavior = zoom<SVGSVGElement, unknown>()
    .scaleExtent([0.2, 6])
    .on('zoom', ({ transform: now }: { transform: ZoomTransform }) => {
      transform.value = now.toString()
      scale.value = now.k
    })

  watch(svg, (element) => {
    if (element) select(element).call(behavior).on('dblclick.zoom', null)
  })

  function by(factor: number) {
    if (svg.value) behavior.scaleBy(select(svg.value), factor)
  }

  /** Sets the scale, the point of the picture as near to the middle as its edges allow. */
  function set(k: number, [fx, fy]: [number, number]) {
    const element = svg.value
    if (!element) return
    const [width, height] = size()
    const along = (view: number, length: number, focus: number) =>
      length * k <= view
        ? (view - length * k) / 2
        : Math.min(0, Math.max(view - length * k, view / 2 - focus * k))
    const x = along(element.clientWidth, width, fx)
    const y = along(element.clientHeight, height, fy)
    behavior.transform(select(element), zoomIdentity.translate(x, y).scale(k))
  }

  function whole(): number {
    const [width, height] = size()
    const { clientWidth = 0, clientHeight = 0 } = svg.value ?? {}
    return width && height ? Math.min(clientWidth / width, clientHeight / height, 1.4) : 1
  }

  /** All of it in sight. */
  const fit = () => set(whole(), [0, 0])

  /** As much of it in sight, round this point, as can still be read. */
  const open = (at: [number, number]) => set(Math.max(whole(), READABLE), at)

  /** Brings a point of the picture to the middle, large enough to read. */
  function to(x: number, y: number) {
    if (!svg.value) return
    const selection = select(svg.value)
    if (scale.value < READABLE) behavior.scaleTo(selection, READABLE)
    behavior.translateTo(selection, x, y)
  }

  return { transform, scale, by, fit, open, to }
}
