import type { Bodies } from '../contract'

export type SavedFormat = Bodies['POST saved-copies']['format']

/** As what copies can be saved, and how it is called. */
export const FORMAT_NAMES: Readonly<Record<SavedFormat, string>> = {
  pdf: 'PDF',
  docx: 'DOCX',
  odt: 'OpenDocument (ODT)',
  html: 'web pages (HTML)',
}
