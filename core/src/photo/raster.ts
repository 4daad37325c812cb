/** A picture in grey: one byte a pixel, row by row, 0 black. */
export interface Grey {
  readonly width: number
  readonly height: number
  readonly data: Uint8Array
}

/** A picture in colour: four bytes a pixel (red, green, blue, opacity), as a canvas has it. */
export interface Rgba {
  readonly width: number
  readonly height: number
  readonly data: Uint8ClampedArray | Uint8Array
}

/** A point, in pixels from the upper left corner. */
export interface Point {
  readonly x: number
  readonly y: number
}

/** Four corners, from the upper left one clockwise. */
export type Corners = readonly [Point, Point, Point, Point]

/** How light each pixel is (ITU-R BT.601). */
export function toGrey({ width, height, data }: Rgba): Grey {
  const grey = new Uint8Array(width * height)
  for (let at = 0, from = 0; at < grey.length; at++, from += 4)
    grey[at] = (data[from]! * 77 + data[from + 1]! * 150 + data[from + 2]! * 29) >> 8
  return { width, height, data: grey }
}

/** The picture made smaller so that its longer side has at most so many pixels, each the mean of those it stands for. */
export function shrunk(grey: Grey, side: number): Grey {
  const scale = Math.max(grey.width, grey.height) / side
  if (scale <= 1) return grey
  const width = Math.max(1, Math.round(grey.width / scale))
  const height = Math.max(1, Math.round(grey.height / scale))
  const data = new Uint8Array(width * height)
  for (let y = 0; y < height; y++) {
    const top = Math.floor((y * grey.height) / height)
    const bottom = Math.max(top + 1, Math.floor(((y + 1) * grey.height) / height))
    for (let x = 0; x < width; x++) {
      const left = Math.floor((x * grey.width) / width)
      const right = Math.max(left + 1, Math.floor(((x + 1) * grey.width) / width))
      let sum = 0
      for (let from = top; from < bottom; from++)
        for (let at = from * grey.width + left; at < from * grey.width + right; at++) sum += grey.data[at]!
      data[y * width + x] = sum / ((bottom - top) * (right - left))
    }
  }
  return { width, height, data }
}

/** Sums over every rectangle from the upper left corner: what lies in any other rectangle comes from four of them. */
export class Sums {
  private readonly sums: Float64Array
  private readonly stride: number

  constructor(private readonly grey: Grey) {
    const { width, height, data } = grey
    this.stride = width + 1
    this.sums = new Float64Array((width + 1) * (height + 1))
    for (let y = 0; y < height; y++) {
      let row = 0
      for (let x = 0; x < width; x++) {
        row += data[y * width + x]!
        this.sums[(y + 1) * this.stride + x + 1] = this.sums[y * this.stride + x + 1]! + row
      }
    }
  }

  /** The mean of the square around a pixel, as far as it lies in the picture. */
  mean(x: number, y: number, reach: number): number {
    const { width, height } = this.grey
    const left = Math.max(0, x - reach)
    const top = Math.max(0, y - reach)
    const right = Math.min(width, x + reach + 1)
    const bottom = Math.min(height, y + reach + 1)
    const { sums, stride } = this
    const sum =
      sums[bottom * stride + right]! -
      sums[top * stride + right]! -
      sums[bottom * stride + left]! +
      sums[top * stride + left]!
    return sum / ((right - left) * (bottom - top))
  }
}

/** The picture in which each place is as light as the lightest in the square around it: print, dark and thin, is gone. */
export function lightest({ width, height, data }: Grey, reach: number): Grey {
  const across = new Uint8Array(data.length)
  const out = new Uint8Array(data.length)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let most = 0
      for (let at = Math.max(0, x - reach); at <= Math.min(width - 1, x + reach); at++)
        most = Math.max(most, data[y * width + at]!)
      across[y * width + x] = most
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let most = 0
      for (let at = Math.max(0, y - reach); at <= Math.min(height - 1, y + reach); at++)
        most = Math.max(most, across[at * width + x]!)
      out[y * width + x] = most
    }
  return { width, height, data: out }
}
