import { mayInClass } from '@gavrin/core'
import type { ClassListed } from '../class/queries'

/** Something that is done at a place of its own. */
export interface Command {
  readonly name: string
  readonly address: string
}

/** What can be gone to from anywhere, by somebody at this class. */
export function commandsFor(current: ClassListed | undefined, isOffice: boolean): Command[] {
  const inLibrary: Command[] = isOffice
    ? []
    : [
        { name: 'Bring in a worksheet', address: '/worksheets/bring-in' },
        { name: 'All classes, archived too', address: '/classes' },
      ]
  if (!current) return inLibrary
  const at = `/class/${current.id}`
  const may = (action: Parameters<typeof mayInClass>[1]) => mayInClass(current.role, action, current.archived).may
  const of = ` – ${current.name}`
  return [
    ...(may('hand out') ? [{ name: `New handout${of}`, address: `${at}/slip` }] : []),
    ...(may('see handouts') ? [{ name: `Handouts${of}`, address: `${at}/handouts` }] : []),
    ...(may('see marks') ? [{ name: `Mark book${of}`, address: `${at}/marks` }] : []),
    ...(may('see groups') ? [{ name: `Groups${of}`, address: `${at}/groups` }] : []),
    ...(may('change the roster')
      ? [
          { name: `Bring in a list of students${of}`, address: `${at}/bring-in` },
          { name: `Let students join by a code${of}`, address: `${at}/join` },
          { name: `Print sign-in cards${of}`, address: `${at}/cards` },
          { name: `Mailroom${of}`, address: `${at}/mailroom` },
        ]
      : []),
    { name: `Shelf${of}`, address: `${at}/shelf` },
    ...inLibrary,
  ]
}
