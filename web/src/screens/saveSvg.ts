/** What a picture is drawn with; everything else of a style is the browser's own. */
const DRAWN = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linecap',
  'stroke-linejoin',
  'opacity',
  'font-family',
  'font-size',
  'font-weight',
  'text-anchor',
]

/** Saves a picture as a file of its own: the styles it has here written into it. */
export function saveSvg(svg: SVGSVGElement, name: string) {
  const copy = svg.cloneNode(true) as SVGSVGElement
  const originals = [svg, ...svg.querySelectorAll<SVGElement>('*')]
  const copies = [copy, ...copy.querySelectorAll<SVGElement>('*')]
  originals.forEach((original, i) => {
    const style = getComputedStyle(original)
    const written = DRAWN.map((property) => `${property}:${style.getPropertyValue(property)}`)
    copies[i]!.setAttribute('style', written.join(';'))
  })
  const ground = getComputedStyle(document.documentElement).getPropertyValue('--paper')
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  copy.style.background = getComputedStyle(svg).getPropertyValue('--paper') || ground
  const text = new XMLSerializer().serializeToString(copy)
  const address = URL.createObjectURL(new Blob([text], { type: 'image/svg+xml' }))
  const link = document.createElement('a')
  link.href = address
  link.download = name
  link.click()
  URL.revokeObjectURL(address)
}
