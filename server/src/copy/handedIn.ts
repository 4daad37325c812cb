import { HANDED_IN_BYTES, type Outcome, type Viewer, documentKind, fine, refuse } from '@gavrin/core'
import { cleanFileName } from '../common/files.js'
import { keepPicture } from '../media/pictures.js'

export const HANDED_IN_TOO_LARGE = `A file has up to ${HANDED_IN_BYTES / 1_000_000} MB: hand in a smaller one.`
/** Files that one copy takes over its life, those that were taken out of it again among them. */
export const FILES_OF_COPY = 100

/** A file as it is kept: photographs made anew from their pixels, documents as they came, told by their content. */
export async function keepHandedIn(
  fileName: string,
  bytes: Uint8Array,
  who: Pick<Viewer, 'schoolId' | 'personId'>,
): Promise<Outcome<{ readonly name: string; readonly type: string; readonly bytes: Uint8Array }>> {
  const name = cleanFileName(fileName)
  const kind = documentKind(bytes, name)
  if (!kind.ok) {
    // What cannot become a worksheet can be handed in all the same, unless there is nothing in it.
    if (bytes.length === 0) return refuse({ code: 'file-empty', field: 'file', sentence: 'This file is empty.' })
    return fine({ name, type: 'application/octet-stream', bytes })
  }
  if (kind.value !== 'picture') return fine({ name, type: 'application/octet-stream', bytes })
  const picture = await keepPicture(bytes, 'handed in', who)
  if (!picture.ok) return picture
  return fine({ name, type: picture.value.type, bytes: picture.value.bytes })
}
