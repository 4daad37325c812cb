import { type Outcome, fine, refuse } from '@gavrin/core'
import sharp, { type Sharp } from 'sharp'

// One picture takes one core; the others answer people.
sharp.concurrency(1)
sharp.cache(false)

/** A picture as it is kept: made anew from its pixels, so that nothing but pixels of the file that came remains. */
export interface KeptPicture {
  readonly type: 'image/png' | 'image/jpeg'
  readonly width: number
  readonly height: number
  readonly bytes: Buffer
}

export const PICTURE_BYTES = 20_000_000
/** A camera's 50 megapixels, with room. */
const PIXELS = 80_000_000
/** A page at 300 dots an inch. */
const SIDE = 3_000
const SECONDS = 20
const TYPES = new Set(['png', 'jpeg', 'webp', 'gif', 'tiff', 'avif'])

/**
 * Reads a picture and writes it anew: upright, no larger than a page needs, without place, time or maker of the camera.
 * Photographs become JPEG; what has few colours or is see-through stays exact, as PNG.
 */
export async function keepPicture(bytes: Uint8Array): Promise<Outcome<KeptPicture>> {
  const problem = (code: string, sentence: string) => refuse({ code, field: 'file', sentence })
  try {
    const read = () =>
      sharp(bytes, { limitInputPixels: PIXELS, failOn: 'error', sequentialRead: true }).timeout({ seconds: SECONDS })
    const about = await read().metadata()
    if (!TYPES.has(about.format ?? ''))
      return problem('picture-kind', 'This is no picture that can be read: bring in PNG, JPEG or WebP.')
    if ((about.width ?? 0) * (about.height ?? 0) > PIXELS)
      return problem(
        'picture-too-large',
        'This picture has more than 80 megapixels: make it smaller and bring it in again.',
      )
    const upright = read().rotate().resize({ width: SIDE, height: SIDE, fit: 'inside', withoutEnlargement: true })
    const isExact = about.format !== 'jpeg' && (about.hasAlpha || about.format === 'png' || about.format === 'gif')
    const { data, info } = await encoded(upright, isExact)
    // A photograph saved as PNG would be many times its size.
    if (isExact && data.length > 1_500_000 && !about.hasAlpha) {
      const smaller = await encoded(
        read().rotate().resize({ width: SIDE, height: SIDE, fit: 'inside', withoutEnlargement: true }),
        false,
      )
      return fine({ type: 'image/jpeg', width: smaller.info.width, height: smaller.info.height, bytes: smaller.data })
    }
    return fine({ type: isExact ? 'image/png' : 'image/jpeg', width: info.width, height: info.height, bytes: data })
  } catch (error) {
    const said = error instanceof Error ? error.message : ''
    if (/exceeds pixel limit/i.test(said))
      return problem(
        'picture-too-large',
        'This picture has more than 80 megapixels: make it smaller and bring it in again.',
      )
    if (/timeout/i.test(said))
      return problem('picture-too-much', 'This picture takes too long to read: make it smaller and bring it in again.')
    return problem(
      'picture-broken',
      'This picture is damaged or of a kind that cannot be read: bring in PNG, JPEG or WebP.',
    )
  }
}

const encoded = (picture: Sharp, isExact: boolean) =>
  (isExact
    ? picture.png({ compressionLevel: 8 })
    : picture.flatten({ background: '#fff' }).jpeg({ quality: 86, mozjpeg: false })
  ).toBuffer({
    resolveWithObject: true,
  })
