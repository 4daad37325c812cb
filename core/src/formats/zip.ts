import { unzipSync } from 'fflate'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { FILE_LIMITS } from './table.js'

/** Whether bytes begin as a zip archive does. */
export const isZip = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && (bytes[2] === 3 || bytes[2] === 5)

const broken = () =>
  refuse({ code: 'file-broken', field: 'file', sentence: 'This file is damaged: save it again where it came from.' })

/** The names of what is packed in an archive, without unpacking any of it. */
export function zipNames(bytes: Uint8Array): Outcome<string[]> {
  const names: string[] = []
  try {
    unzipSync(bytes, {
      filter: ({ name }) => {
        names.push(name)
        return false
      },
    })
  } catch {
    return broken()
  }
  return fine(names)
}

/**
 * Unpacks some files of an archive, up to {@link FILE_LIMITS} in all. The size that an archive states is what is set aside
 * for a file; what unpacks to more than it states is broken.
 * @param wanted which files, by name
 */
export function unzipWithin(bytes: Uint8Array, wanted: (name: string) => boolean): Outcome<Record<string, Uint8Array>> {
  let total = 0
  let tooMuch = false
  try {
    const files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (tooMuch || !wanted(name)) return false
        total += originalSize
        tooMuch = total > FILE_LIMITS.unpacked
        return !tooMuch
      },
    })
    if (!tooMuch) return fine(files)
  } catch {
    return broken()
  }
  return refuse({
    code: 'file-too-much-inside',
    field: 'file',
    sentence: `This file unpacks to more than ${FILE_LIMITS.unpacked / 1_000_000} MB: it was not opened.`,
  })
}
