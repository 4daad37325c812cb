import { type WorksheetContent, languageOf } from '@gavrin/core'

const REMEMBERED = 1_000
const known = new Map<string, string>()

/** The language of the worksheet of a copy; worked out once for each edition, which never changes. */
export function languageOfEdition(copy: {
  readonly worksheetId: string
  readonly edition: number
  readonly content: WorksheetContent
}): string {
  const key = `${copy.worksheetId} ${copy.edition}`
  let language = known.get(key)
  if (language === undefined) {
    language = languageOf(copy.content)
    if (known.size >= REMEMBERED) known.delete(known.keys().next().value!)
    known.set(key, language)
  }
  return language
}
