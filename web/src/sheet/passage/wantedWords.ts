import type { PassageSpace } from '@gavrin/core'

/** How many words there are and how many are wanted, in words. */
export function wantedWords(words: number, { least, most }: NonNullable<PassageSpace['wanted']>): string {
  const range =
    least !== null && most !== null ? `${least} to ${most}` : least !== null ? `at least ${least}` : `up to ${most}`
  return `${words} ${words === 1 ? 'word' : 'words'}; wanted: ${range}`
}
