import { type PhotoCut, type PhotoPage, cornersOf } from '@gavrin/core'
import { cleanPage, openPicture } from '../../workers/pages'
import { fileOf, photoOf } from './queries'

/** A page out of its photograph: straight and clean. */
export interface CleanPage {
  readonly blob: Blob
  readonly url: string
}

/** How a page is to be taken out of its photograph as it stands; the whole picture needs no corners. */
export function cutOf({ corners, even, turn, width, height }: PhotoPage): PhotoCut {
  const whole = JSON.stringify(cornersOf(width, height))
  return { corners: corners && JSON.stringify(corners) !== whole ? corners : null, even, turn }
}

export const isSameCut = (one: PhotoCut | null, other: PhotoCut | null): boolean =>
  JSON.stringify(one) === JSON.stringify(other)

/** The photographs of an upload and the pages taken out of them, each fetched and worked out once. */
export class PhotoFiles {
  private readonly pictures = new Map<string | null, Promise<Blob>>()
  private readonly pages = new Map<string, Promise<CleanPage>>()

  constructor(private readonly uploadId: string) {}

  /** The photograph of a page as it came. */
  picture(id: string | null): Promise<Blob> {
    return this.once(this.pictures, id, () => (id ? photoOf(this.uploadId, id) : fileOf(this.uploadId)))
  }

  /** The page as it was straightened last. */
  page({ picture, cut }: Pick<PhotoPage, 'picture' | 'cut'>): Promise<CleanPage> {
    return this.once(this.pages, JSON.stringify([picture, cut]), async () => {
      const blob = await cleanPage(await openPicture(await this.picture(picture)), cut!)
      return { blob, url: URL.createObjectURL(blob) }
    })
  }

  close(): void {
    for (const page of this.pages.values())
      void page.then(
        ({ url }) => URL.revokeObjectURL(url),
        () => undefined,
      )
    this.pages.clear()
  }

  /** What fails is tried again when it is wanted again. */
  private once<K, T>(kept: Map<K, Promise<T>>, key: K, make: () => Promise<T>): Promise<T> {
    let made = kept.get(key)
    if (!made) {
      made = make()
      kept.set(key, made)
      made.catch(() => kept.delete(key))
    }
    return made
  }
}
