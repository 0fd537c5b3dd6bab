import { colours } from '../composables/theme'
import { save } from './words/tables'

/** A drawing as a document of its own, on the ground it is seen on; an empty text where there is none. */
function documentOf(drawn: SVGElement | null | undefined): string {
  if (!drawn) return ''
  const copy = drawn.cloneNode(true) as SVGElement
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  copy.style.background = colours.value.sheet
  // colours come from the page's own variables, which the document does not have
  const page = getComputedStyle(document.documentElement)
  const text = new XMLSerializer().serializeToString(copy)
  return text.replace(/var\((--[a-z-]+)\)/g, (_, name: string) => page.getPropertyValue(name).trim())
}

export const saveSvg = (drawn: SVGElement | null | undefined, name: string): void =>
  save(new Blob([documentOf(drawn)], { type: 'image/svg+xml' }), `${name}.svg`)

export async function savePng(drawn: SVGElement | null | undefined, name: string): Promise<void> {
  const picture = new Image()
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(documentOf(drawn))}`
  await picture.decode()
  const canvas = document.createElement('canvas')
  canvas.width = picture.width * 2
  canvas.height = picture.height * 2
  const context = canvas.getContext('2d')
  if (!context) return
  context.fillStyle = colours.value.sheet
  context.fillRect(0, 0, canvas.width, canvas.height)
  context.drawImage(picture, 0, 0, canvas.width, canvas.height)
  canvas.toBlob((content) => content && save(content, `${name}.png`))
}
