import type { Crop, PictureBlock } from './content.js'

const WHOLE: Crop = { x: 0, y: 0, width: 1, height: 1 }

/** How a cut and turned picture is laid out with nothing but boxes: all in percent of the box around. */
export interface PictureLayout {
  /** Width by height of what is seen. */
  readonly aspect: number
  /** The frame that is turned, centred in what is seen. */
  readonly frame: { readonly width: number; readonly height: number }
  /** The whole picture, in the frame that shows a part of it. */
  readonly picture: { readonly left: number; readonly top: number; readonly width: number; readonly height: number }
}

/** Lays out a picture as it is cut and turned. */
export function pictureLayout({
  pixelWidth,
  pixelHeight,
  crop,
  turn,
}: Pick<PictureBlock, 'pixelWidth' | 'pixelHeight' | 'crop' | 'turn'>): PictureLayout {
  const part = crop ?? WHOLE
  const shape = (part.width * pixelWidth) / (part.height * pixelHeight)
  const isUpright = turn % 180 === 0
  return {
    aspect: isUpright ? shape : 1 / shape,
    frame: isUpright ? { width: 100, height: 100 } : { width: 100 * shape, height: 100 / shape },
    picture: {
      left: (-100 * part.x) / part.width,
      top: (-100 * part.y) / part.height,
      width: 100 / part.width,
      height: 100 / part.height,
    },
  }
}
