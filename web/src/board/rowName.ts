import { type BoardRow, fullName, listName } from '@gavrin/core'

/** Whose copy a row is: the one name, the group's copy by its title with its people, or the title alone. */
export function rowName({ holders, way, title }: BoardRow): string {
  if (way !== 'one each' || holders.length === 0) return title
  // Beside the student's own copy it is the one that they began as a guest.
  const guest = holders.find(({ guestOf }) => guestOf?.beside)
  return guest && holders.length > 1 ? `${listName(holders[0]!)}, as ${fullName(guest)}` : listName(holders[0]!)
}

/** Who shares the copy of a row. */
export const rowPeople = ({ holders }: BoardRow): string => holders.map(fullName).join(', ')
