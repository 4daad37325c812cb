import { type Grey, type Rgba, Sums, lightest, shrunk } from './raster.js'

const LIGHT_SIDE = 200
/** Dark things up to twice this wide, in pixels of the small copy, are print; wider ones are shadow. */
const REACH = 6

/**
 * How light the paper is at each place, in one of the three colours: the picture made small, with everything dark and thin
 * (print) closed over, smoothed.
 */
function paperLight({ width, height, data }: Rgba, part: number): Grey {
  const one = new Uint8Array(width * height)
  for (let at = 0, from = part; at < one.length; at++, from += 4) one[at] = data[from]!
  const small = shrunk({ width, height, data: one }, LIGHT_SIDE)
  const closed = inverted(lightest(inverted(lightest(small, REACH)), REACH))
  const sums = new Sums(closed)
  const even = new Uint8Array(small.data.length)
  for (let y = 0; y < small.height; y++)
    for (let x = 0; x < small.width; x++) even[y * small.width + x] = sums.mean(x, y, 2)
  return { ...small, data: even }
}

const inverted = (grey: Grey): Grey => ({ ...grey, data: grey.data.map((value) => 255 - value) })

/**
 * The page with shadows and the colour of the lamp taken out, darkened where it is print, and sharpened: every part is
 * divided by how light the paper is there, so that paper is white everywhere.
 */
export function evenOut(picture: Rgba): Rgba {
  const { width, height, data } = picture
  const lights = [0, 1, 2].map((part) => paperLight(picture, part))
  const { width: across, height: down } = lights[0]!
  const out = new Uint8ClampedArray(data.length)
  const share = new Float32Array(width)
  const column = new Int32Array(width)
  const right = across > 1 ? 1 : 0
  for (let x = 0; x < width; x++) {
    const at = Math.min(across - 1, Math.max(0, ((x + 0.5) * across) / width - 0.5))
    column[x] = Math.max(0, Math.min(across - 2, Math.floor(at)))
    share[x] = at - column[x]!
  }
  for (let y = 0, to = 0; y < height; y++) {
    const at = Math.min(down - 1, Math.max(0, ((y + 0.5) * down) / height - 0.5))
    const row = Math.max(0, Math.min(down - 2, Math.floor(at)))
    const lower = at - row
    const top = row * across
    const bottom = top + (down > 1 ? across : 0)
    for (let x = 0; x < width; x++, to += 4) {
      const from = column[x]!
      const near = share[x]!
      for (let part = 0; part < 3; part++) {
        const light = lights[part]!.data
        const above = light[top + from]! * (1 - near) + light[top + from + right]! * near
        const below = light[bottom + from]! * (1 - near) + light[bottom + from + right]! * near
        const paper = Math.max(16, above * (1 - lower) + below * lower)
        // From 0 (black) to 1 (paper); the faint ends are drawn to white and black.
        out[to + part] = 255 * Math.min(1, Math.max(0, (data[to + part]! / paper - 0.18) / 0.7))
      }
      out[to + 3] = 255
    }
  }
  return sharpened({ width, height, data: out })
}

/** The picture with every edge made steeper: each pixel is moved away from the mean of its four neighbours. */
function sharpened({ width, height, data }: Rgba): Rgba {
  const out = new Uint8ClampedArray(data)
  const line = width * 4
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const at = y * line + x * 4
      for (let part = at; part < at + 3; part++) {
        const around = data[part - 4]! + data[part + 4]! + data[part - line]! + data[part + line]!
        out[part] = data[part]! + 0.6 * (data[part]! - around / 4)
      }
    }
  return { width, height, data: out }
}
