import type { Answers } from '../contract'
import { api } from '../ui/api'
import { copiesInWords } from './words'

/** Undoes what was done with pens, and says in how many copies. */
export async function undoPens(handoutId: string, actId: string): Promise<string> {
  const { changes, changedSince } = await api.post<Answers['POST handouts/{handoutId}/pens/{actId}/undo']>(
    `handouts/${handoutId}/pens/${actId}/undo`,
  )
  const since = changedSince.length
  const stay = since === 1 ? 'stays as it is' : 'stay as they are'
  return `Undone in ${copiesInWords(changes.length)}.${since > 0 ? ` ${copiesInWords(since)} had been changed since and ${stay}.` : ''}`
}
