import { type Outcome, fine, refuse } from '@gavrin/core'
import sharp, { type Sharp } from 'sharp'
import type { KeptPicture, PicturePurpose } from './pictures.js'

// Runs as a process of its own; see pictures.ts.

sharp.concurrency(1)
sharp.cache(false)

/** Megapixels by purpose: a camera's fifty, with room; and what is not a photograph is decoded whole before it is made smaller. */
const MEGAPIXELS: Record<PicturePurpose, { readonly jpeg: number; readonly other: number }> = {
  photograph: { jpeg: 80, other: 40 },
  'handed in': { jpeg: 64, other: 40 },
  worksheet: { jpeg: 64, other: 40 },
}
/** A page at 300 dots an inch. */
const SIDE = 3_000
const TYPES = new Set(['png', 'jpeg', 'webp', 'gif', 'tiff', 'avif'])

const problem = (code: string, sentence: string) => refuse({ code, field: 'file', sentence })
const tooLarge = (megapixels: number) =>
  problem(
    'picture-too-large',
    `This picture has more than ${megapixels} megapixels: make it smaller and bring it in again.`,
  )

process.on('message', ({ bytes, purpose }: { bytes: Uint8Array; purpose: PicturePurpose }) => {
  void keep(bytes, purpose).then((outcome) => process.send!(outcome))
})
process.on('disconnect', () => process.exit())

/**
 * Reads a picture and writes it anew: upright, no larger than a page needs, without place, time or maker of the camera.
 * Photographs become JPEG; what has few colours or is see-through stays exact, as PNG.
 */
async function keep(bytes: Uint8Array, purpose: PicturePurpose): Promise<Outcome<KeptPicture>> {
  const most = MEGAPIXELS[purpose]
  try {
    const read = () => sharp(bytes, { limitInputPixels: most.jpeg * 1_000_000, failOn: 'error', sequentialRead: true })
    const about = await read().metadata()
    if (!TYPES.has(about.format ?? ''))
      return problem('picture-kind', 'This is no picture that can be read: bring in PNG, JPEG or WebP.')
    const megapixels = about.format === 'jpeg' ? most.jpeg : most.other
    // Frames of a moving picture are counted as they are read: the first alone.
    if ((about.width ?? 0) * (about.height ?? 0) > megapixels * 1_000_000) return tooLarge(megapixels)
    const upright = () => read().rotate().resize({ width: SIDE, height: SIDE, fit: 'inside', withoutEnlargement: true })
    const isExact = about.format !== 'jpeg' && (about.hasAlpha || about.format === 'png' || about.format === 'gif')
    const { data, info } = await encoded(upright(), isExact)
    // A photograph saved as PNG would be many times its size.
    if (isExact && data.length > 1_500_000 && !about.hasAlpha) {
      const smaller = await encoded(upright(), false)
      return fine({ type: 'image/jpeg', width: smaller.info.width, height: smaller.info.height, bytes: smaller.data })
    }
    return fine({ type: isExact ? 'image/png' : 'image/jpeg', width: info.width, height: info.height, bytes: data })
  } catch (error) {
    if (/exceeds pixel limit/i.test(error instanceof Error ? error.message : '')) return tooLarge(most.jpeg)
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
