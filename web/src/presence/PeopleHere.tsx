import { HERE_COLOURS, type PersonHere, type WorksheetContent } from '@gavrin/core'
import { useSyncExternalStore } from 'react'
import type * as Y from 'yjs'
import type { People } from '../live/whereabouts'
import { useMarks } from './marks'
import './presence.css'

/** How many names there is room for. */
const NAMED = 6

const colourOf = ({ key }: PersonHere) => `here-${key % HERE_COLOURS}`

/** Whether a first name is that of one alone. */
const shownName = (person: PersonHere, people: readonly PersonHere[]) =>
  people.filter(({ first }) => first === person.first).length > 1 ? person.name : person.first

/** Who has a copy open: names on small blocks of colour; nothing where one is alone. */
export function PeopleLine({ people: here }: { readonly people: People }) {
  const people = useSyncExternalStore(here.subscribe, here.list, here.list)
  if (people.every(({ isSelf }) => isSelf)) return null
  const named = people.slice(0, NAMED)
  const more = people.slice(NAMED)
  return (
    <ul className="people-here" aria-label="Who is here">
      {named.map((person) => (
        <li
          key={person.key}
          className={person.isAway ? `${colourOf(person)} away` : colourOf(person)}
          title={person.isSelf ? `${person.name}, you` : person.name}
        >
          <bdi>{shownName(person, people)}</bdi>
          {person.isAway && ' · away'}
          {person.isSelf && <span className="visually-hidden"> (you)</span>}
        </li>
      ))}
      {more.length > 0 && <li title={more.map(({ name }) => name).join(', ')}>and {more.length} more</li>}
    </ul>
  )
}

interface MarksProps {
  readonly people: People
  readonly sheet: HTMLElement | null
  readonly content: WorksheetContent
  readonly docOf: ((space: string) => Y.Doc) | null
}

/** The others on the sheet: a caret with a name where they write, a name at their answer space where it is not known. */
export function PeopleMarks({ people: here, sheet, content, docOf }: MarksProps) {
  const people = useSyncExternalStore(here.subscribe, here.list, here.list)
  const marks = useMarks(people, sheet, content, docOf)
  return (
    <div className="people-marks" aria-hidden="true">
      {marks.map(({ person, left, top, height }) => (
        <span
          key={person.key}
          className={`other-caret ${colourOf(person)}`}
          style={{ transform: `translate(${left}px, ${top}px)`, height }}
        >
          <bdi key={person.at}>{shownName(person, people)}</bdi>
        </span>
      ))}
    </div>
  )
}
