import sharp from 'sharp'

/** The projective map of the unit square to four points, as a matrix (P. Heckbert, 1989, section 2.2.3). */
function squareTo([p0, p1, p2, p3]) {
  const dx1 = p1[0] - p2[0]
  const dx2 = p3[0] - p2[0]
  const dx3 = p0[0] - p1[0] + p2[0] - p3[0]
  const dy1 = p1[1] - p2[1]
  const dy2 = p3[1] - p2[1]
  const dy3 = p0[1] - p1[1] + p2[1] - p3[1]
  const by = dx1 * dy2 - dx2 * dy1
  const g = (dx3 * dy2 - dx2 * dy3) / by
  const h = (dx1 * dy3 - dx3 * dy1) / by
  return [
    [p1[0] - p0[0] + g * p1[0], p3[0] - p0[0] + h * p3[0], p0[0]],
    [p1[1] - p0[1] + g * p1[1], p3[1] - p0[1] + h * p3[1], p0[1]],
    [g, h, 1],
  ]
}

function inverse([[a, b, c], [d, e, f], [g, h, i]]) {
  return [
    [e * i - f * h, c * h - b * i, b * f - c * e],
    [f * g - d * i, a * i - c * g, c * d - a * f],
    [d * h - e * g, b * g - a * h, a * e - b * d],
  ]
}

/** Numbers that look random and are the same each time. */
function seeded(seed) {
  let state = seed >>> 0
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return state / 2 ** 32
  }
}

/**
 * A photograph of a page as a phone takes it in a hurry: at an angle, on a table, with a shadow and a warm lamp.
 * @param {Buffer} page a picture of the page, seen straight
 * @param {{ width: number, height: number, corners: number[][], seed: number, shadow: number }} how corners: where those of
 *   the page come to lie in the photograph, clockwise from the upper left; shadow: 0 none, 1 nearly black
 */
export async function photograph(page, { width, height, corners, seed, shadow }) {
  const { data, info } = await sharp(page).removeAlpha().raw().toBuffer({ resolveWithObject: true })
  const back = inverse(squareTo(corners))
  const random = seeded(seed)
  const out = Buffer.alloc(width * height * 3)
  const slant = 0.35 + random() * 0.3
  for (let y = 0, to = 0; y < height; y++)
    for (let x = 0; x < width; x++, to += 3) {
      const w = back[2][0] * x + back[2][1] * y + back[2][2]
      const u = (back[0][0] * x + back[0][1] * y + back[0][2]) / w
      const v = (back[1][0] * x + back[1][1] * y + back[1][2]) / w
      // A lamp from the upper left, and the shadow of whoever holds the phone across a corner.
      const lamp = 1.02 - 0.34 * (x / width) - 0.14 * (y / height)
      const edge = (x / width) * slant + y / height - 0.9
      const light = lamp * (1 - shadow * Math.min(1, Math.max(0, edge * 6)))
      const noise = (random() - 0.5) * 9
      if (u >= 0 && u < 1 && v >= 0 && v < 1) {
        const px = Math.min(info.width - 1.001, u * info.width)
        const py = Math.min(info.height - 1.001, v * info.height)
        const left = Math.floor(px)
        const top = Math.floor(py)
        for (let part = 0; part < 3; part++) {
          const at = (row, column) => data[(row * info.width + column) * 3 + part]
          const upper = at(top, left) * (1 - px + left) + at(top, Math.min(info.width - 1, left + 1)) * (px - left)
          const row = Math.min(info.height - 1, top + 1)
          const lower = at(row, left) * (1 - px + left) + at(row, Math.min(info.width - 1, left + 1)) * (px - left)
          const value = upper * (1 - py + top) + lower * (py - top)
          out[to + part] = Math.min(255, Math.max(0, value * light * [1, 0.965, 0.87][part] + noise))
        }
      } else {
        const grain = 10 * Math.sin((x + 7 * Math.sin(y / 90)) / 23)
        const wood = [104, 76, 52]
        for (let part = 0; part < 3; part++)
          out[to + part] = Math.min(255, Math.max(0, (wood[part] + grain) * light + noise))
      }
    }
  return sharp(out, { raw: { width, height, channels: 3 } })
    .blur(0.7)
    .jpeg({ quality: 82 })
    .toBuffer()
}
