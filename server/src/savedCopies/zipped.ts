import { Zip, ZipPassThrough } from 'fflate'
import { Readable } from 'node:stream'

/** A file in an archive. */
export interface ZippedFile {
  readonly name: string
  readonly place: number
}

/**
 * Files in one archive, read one by one as it is fetched: no more than one is in memory. They are not packed tighter, for
 * documents are already.
 */
export const zipped = (files: readonly ZippedFile[], read: (place: number) => Promise<Uint8Array>): Readable =>
  Readable.from(parts(files, read))

async function* parts(
  files: readonly ZippedFile[],
  read: (place: number) => Promise<Uint8Array>,
): AsyncGenerator<Uint8Array> {
  let ready: Uint8Array[] = []
  let problem: Error | null = null
  const archive = new Zip((error, bytes) => {
    if (error) problem = error
    else ready.push(bytes)
  })
  const take = function* () {
    if (problem) throw problem
    const taken = ready
    ready = []
    yield* taken
  }
  for (const { name, place } of files) {
    const entry = new ZipPassThrough(name)
    archive.add(entry)
    entry.push(await read(place), true)
    yield* take()
  }
  archive.end()
  yield* take()
}
