import type { Corners, Place } from '@gavrin/core'
import type { PageTask } from './page.worker'

type Answer<T> = { readonly value: T } | { readonly problem: string }

/** Does one piece of work on the picture of a page, in a worker of its own; the picture is handed over. */
function inWorker<T>(task: PageTask): Promise<T> {
  const worker = new Worker(new URL('./page.worker.ts', import.meta.url), { type: 'module' })
  return new Promise<T>((resolve, reject) => {
    worker.onmessage = ({ data }: MessageEvent<Answer<T>>) =>
      'value' in data ? resolve(data.value) : reject(new Error(data.problem))
    worker.onerror = () => reject(new Error('The picture could not be worked on.'))
    worker.postMessage(task, [task.picture])
  }).finally(() => worker.terminate())
}

/** The corners of the sheet of paper in a photograph, in its pixels. */
export const cornersIn = (picture: ImageBitmap): Promise<Corners> => inWorker({ do: 'corners', picture })

export interface Cleaning {
  /** Null: the whole picture is the page. */
  readonly corners: Corners | null
  /** Shadows are taken out and print is darkened. */
  readonly even: boolean
  /** Degrees clockwise. */
  readonly turn: number
}

/** The page in a photograph, straight and clean. */
export const cleanPage = (picture: ImageBitmap, cleaning: Cleaning): Promise<Blob> =>
  inWorker({ do: 'clean', picture, ...cleaning })

/** The ruled lines and empty frames of a clean page. */
export const placesOn = (picture: ImageBitmap): Promise<Place[]> => inWorker({ do: 'places', picture })

/** The largest picture that is opened here, in pixels; larger ones are refused in words. */
const PIXELS = 80_000_000

/** Opens a picture file upright, as its camera meant it. */
export async function openPicture(file: Blob): Promise<ImageBitmap> {
  let picture: ImageBitmap
  try {
    picture = await createImageBitmap(file, { imageOrientation: 'from-image' })
  } catch {
    throw new PictureProblem(
      'This picture is damaged or of a kind that this browser cannot show: save it as JPEG or PNG.',
    )
  }
  if (picture.width * picture.height <= PIXELS) return picture
  picture.close()
  throw new PictureProblem('This picture has more than 80 megapixels: make it smaller and bring it in again.')
}

/** What is the matter with a picture, in a sentence for whoever brought it. */
export class PictureProblem extends Error {}
