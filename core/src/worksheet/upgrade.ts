import { EMPTY_CONTENT, type WorksheetContent } from './content.js'

/** The version of the content model that this program writes. */
export const CONTENT_VERSION = 2

/**
 * Brings content of an older version to the newest, one version after the other. What is newest already, or is no
 * content at all, comes back as it is: checking is the business of `checkContent`.
 *
 * 1 → 2: page size and source line came; sections, pictures, tables, backdrops, gaps, drawings and files became possible.
 */
export function upgradeContent(input: unknown): unknown {
  if (typeof input !== 'object' || input === null || Array.isArray(input)) return input
  if ((input as { version?: unknown }).version === 1)
    return { ...input, version: 2, page: EMPTY_CONTENT.page, source: EMPTY_CONTENT.source }
  return input
}

/** Content that this program has checked before it kept it, whatever version it was kept in. */
export const keptContent = (stored: object): WorksheetContent => upgradeContent(stored) as WorksheetContent
