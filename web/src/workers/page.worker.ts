import { type Corners, cornersOf, evenOut, findCorners, findPlaces, straighten, toGrey } from '@gavrin/core'

// Work on the picture of a page, away from the thread that answers the person.

/** The longer side of a cleaned page, in pixels: about 250 dots an inch on A4, what text recognition likes. */
const PAGE_SIDE = 2_600

export type PageTask =
  | { readonly do: 'corners'; readonly picture: ImageBitmap }
  | {
      readonly do: 'clean'
      readonly picture: ImageBitmap
      readonly corners: Corners | null
      readonly even: boolean
      readonly turn: number
    }
  | { readonly do: 'places'; readonly picture: ImageBitmap }

function pixelsOf(picture: ImageBitmap, side: number): ImageData {
  const scale = Math.min(1, side / Math.max(picture.width, picture.height))
  const canvas = new OffscreenCanvas(Math.round(picture.width * scale), Math.round(picture.height * scale))
  const context = canvas.getContext('2d', { willReadFrequently: true })!
  context.drawImage(picture, 0, 0, canvas.width, canvas.height)
  return context.getImageData(0, 0, canvas.width, canvas.height)
}

async function clean({ picture, corners, even, turn }: Extract<PageTask, { do: 'clean' }>): Promise<Blob> {
  const pixels = pixelsOf(picture, 4_000)
  const scale = pixels.width / picture.width
  const scaled = corners
    ? (corners.map(({ x, y }) => ({ x: x * scale, y: y * scale })) as unknown as Corners)
    : cornersOf(pixels.width, pixels.height)
  const straight = straighten(pixels, scaled, PAGE_SIDE, corners === null)
  const page = even ? evenOut(straight) : straight
  const flat = new OffscreenCanvas(page.width, page.height)
  flat.getContext('2d')!.putImageData(new ImageData(new Uint8ClampedArray(page.data), page.width, page.height), 0, 0)
  if (turn % 360 === 0) return flat.convertToBlob({ type: 'image/jpeg', quality: 0.9 })
  const isAside = turn % 180 !== 0
  const turned = new OffscreenCanvas(isAside ? page.height : page.width, isAside ? page.width : page.height)
  const context = turned.getContext('2d')!
  context.translate(turned.width / 2, turned.height / 2)
  context.rotate((turn * Math.PI) / 180)
  context.drawImage(flat, -page.width / 2, -page.height / 2)
  return turned.convertToBlob({ type: 'image/jpeg', quality: 0.9 })
}

self.onmessage = async ({ data }: MessageEvent<PageTask>) => {
  try {
    if (data.do === 'clean') return self.postMessage({ value: await clean(data) })
    if (data.do === 'places') return self.postMessage({ value: findPlaces(toGrey(pixelsOf(data.picture, 2_000))) })
    const pixels = pixelsOf(data.picture, 1_200)
    const scale = data.picture.width / pixels.width
    const corners = findCorners(toGrey(pixels)).map(({ x, y }) => ({ x: x * scale, y: y * scale }))
    self.postMessage({ value: corners })
  } catch (error) {
    self.postMessage({ problem: String(error) })
  }
}
