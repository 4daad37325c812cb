import { movedIn } from './differences.js'
import type { Permissions } from './changes.js'

const MAY = { edit: 'write', comment: 'comment', view: 'only read', none: 'do nothing' } as const
/** More names than this are counted. */
const NAMED = 3

/**
 * What becomes another in who may do what with a copy, in words: "Chidi Abara comes in, Zofia Dąbrowska leaves".
 * @param nameOf what a student is called
 */
export function accessChangeInWords(
  before: Permissions,
  after: Permissions,
  nameOf: (personId: string) => string,
): string {
  const named = (people: readonly string[], one: string, several: string) => {
    if (people.length === 0) return []
    if (people.length > NAMED) return [`${people.length} students ${several}`]
    return [`${people.map(nameOf).join(', ')} ${people.length === 1 ? one : several}`]
  }
  const ids = (people: Permissions['holders']) => people.map(({ personId }) => personId)
  const [had, has] = [new Set(ids(before.holders)), new Set(ids(after.holders))]
  const [read, reads] = [new Set(ids(before.readers)), new Set(ids(after.readers))]
  const may = new Map(before.holders.map(({ personId, permission }) => [personId, permission]))
  const permitted = after.holders.filter(
    ({ personId, permission }) => had.has(personId) && may.get(personId) !== permission,
  )
  const [first] = permitted
  return [
    ...named(
      [...has].filter((id) => !had.has(id)),
      'comes in',
      'come in',
    ),
    ...named(
      [...had].filter((id) => !has.has(id)),
      'leaves',
      'leave',
    ),
    ...named(movedIn(before, after), 'has another place', 'have another place'),
    ...(first ? named(ids(permitted), `may ${MAY[first.permission]}`, `may ${MAY[first.permission]}`) : []),
    ...named(
      [...reads].filter((id) => !read.has(id)),
      'reads it too',
      'read it too',
    ),
    ...named(
      [...read].filter((id) => !reads.has(id)),
      'reads it no more',
      'read it no more',
    ),
    ...(before.classmatesMay === after.classmatesMay ? [] : [`classmates may ${MAY[after.classmatesMay]}`]),
    ...(before.mayInvite === after.mayInvite
      ? []
      : [after.mayInvite ? 'students may let others in' : 'students let nobody in']),
  ].join(', ')
}
