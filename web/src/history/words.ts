import type { JournalKind } from '@gavrin/core'

/** What happened to a copy, in words. */
export const STEP_WORDS: Readonly<Record<JournalKind, string>> = {
  given: 'Given',
  opened: 'Opened',
  'first written in': 'First written in',
  submitted: 'Submitted',
  'taken back': 'Taken back',
  'pens down': 'Pens down',
  'pens up': 'Pens up again',
  marked: 'Marked',
  'handed back': 'Handed back',
  'hand-back withdrawn': 'Hand-back withdrawn',
  'opened again': 'Opened again to be improved',
  'set aside': 'Set aside',
  'brought back': 'Brought back into use',
  'late writing': 'Something came late',
  'brought to last good': 'Brought to its last good state',
  'late writing taken in': 'Late writing taken in',
  'late writing left out': 'Late writing left out',
  'answers brought back': 'Earlier answers brought back',
  'guest matched': 'The guest was matched with a student',
  'guest not matched': 'The guest was not matched any more',
}

/** Several of something: two by name, the rest counted. */
export function some(names: readonly string[], more: string): string {
  if (names.length <= 2) return names.join(' and ')
  return `${names[0]}, ${names[1]} and ${names.length - 2} ${more}`
}

/** The label of an answer without the words of its question: "Answer 3". */
export const shortLabel = (label: string | undefined): string =>
  label?.split(':')[0] || 'an answer that is not asked any more'
