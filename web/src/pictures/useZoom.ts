import { select } from 'd3-selection'
import { zoom, zoomIdentity, type ZoomTransform } from 'd3-zoom'
import { ref, watch, type Ref } from 'vue'

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

  /** All of it in sight. */
  function fit() {
    const element = svg.value
    const [width, height] = size()
    if (!element || !width || !height) return
    const { clientWidth, clientHeight } = element
    const k = Math.min(clientWidth / width, clientHeight / height, 1.4)
    const x = (clientWidth - width * k) / 2
    const y = (clientHeight - height * k) / 2
    behavior.transform(select(element), zoomIdentity.translate(x, y).scale(k))
  }

  /** Brings a point of the picture to the middle, large enough to read. */
  function to(x: number, y: number) {
    if (!svg.value) return
    const selection = select(svg.value)
    if (scale.value < 0.9) behavior.scaleTo(selection, 1)
    behavior.translateTo(selection, x, y)
  }

  return { transform, scale, by, fit, to }
}
