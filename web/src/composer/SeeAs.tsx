import {
  type Permission,
  type PlannedCopy,
  type PlanFacts,
  type Statement,
  expandSections,
  fillNote,
  forStudents,
  fullName,
  mayWriteAt,
  noticeValues,
  reservedSpaces,
} from '@gavrin/core'
import { useMemo } from 'react'
import { Modal } from 'react-bootstrap'
import { Sheet } from '../sheet/Sheet'
import { SheetContext, inLibrary } from '../sheet/surroundings'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { NoteView } from '../ui/NoteView'
import { inkName } from '../ui/inks'
import { timeInWords } from '../ui/time'
import { useEdition } from '../worksheets/queries'
import { EmptySpace } from '../sheet/place'

interface Props {
  readonly copy: PlannedCopy
  readonly personId: string
  readonly statement: Statement
  readonly facts: PlanFacts
  readonly title: string
  readonly ink: string
  readonly close: () => void
}

const MAY_WORDS: Readonly<Record<Permission, string>> = {
  edit: 'may write in it and submit it',
  comment: 'may read it and comment',
  view: 'may only view it',
  none: 'does not see it',
}

/** Exactly what one student will get: the note, the head of the copy, and the page with its sections laid open. */
export function SeeAs({ copy, personId, statement, facts, title, ink, close }: Props) {
  const member = facts.members.find((candidate) => candidate.personId === personId)
  const name = member ? fullName(member) : ''
  const permission = copy.holders.find((holder) => holder.personId === personId)?.permission ?? 'none'
  const worksheet = facts.worksheets.find(({ id }) => id === copy.worksheetId)
  const note = useMemo(
    () => statement.cover && fillNote(statement.cover.text, noticeValues(statement, facts)(personId)),
    [statement, facts, personId],
  )
  return (
    <Modal show fullscreen="lg-down" size="xl" scrollable onHide={close} aria-labelledby="see-as-title">
      <Modal.Header closeButton>
        <Modal.Title id="see-as-title">
          As <bdi>{name}</bdi> will see it
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="see-as" data-ink={inkName(ink)}>
        {note && (
          <section className="see-as-note" aria-label="Cover note">
            <p className="soft">
              {statement.cover?.by === 'mail' && member?.email ? `By mail to ${member.email}` : 'On the desk'}
            </p>
            <NoteView note={note} />
          </section>
        )}
        <section className="see-as-head" aria-label="Head of the copy">
          <strong>
            <bdi>{copy.link ? copy.title : (worksheet?.title ?? '')}</bdi>
          </strong>
          <span className="soft">
            No. {facts.number} · {facts.className}
            {title && title !== worksheet?.title ? ` · ${title}` : ''}
            {copy.holders.length > 1 && copy.way === 'one per group'
              ? ` · shared by ${copy.holders.length}`
              : copy.holders.length > 1 && copy.way === 'one together'
                ? ' · shared by the class'
                : ''}
          </span>
          <span>
            {copy.opensAt !== null && `opens ${timeInWords(copy.opensAt)} · `}
            {copy.dueAt === null ? 'no due time' : `due ${timeInWords(copy.dueAt)}`}
            {copy.pensDownAtDue && copy.dueAt !== null && ', then pens are down'}
          </span>
          <span className="soft">
            <bdi>{name}</bdi> {copy.way === 'to read' && permission === 'edit' ? MAY_WORDS.view : MAY_WORDS[permission]}
            . The copy is called “<bdi>{copy.title}</bdi>”.
          </span>
        </section>
        {statement.instructions && (
          <section className="copy-instructions" aria-label="Instructions">
            <NoteView note={statement.instructions} />
          </section>
        )}
        {copy.link ? (
          <p>
            <a href={copy.link} target="_blank" rel="noreferrer">
              {copy.link}
            </a>
          </p>
        ) : worksheet ? (
          <SeenPage copy={copy} facts={facts} personId={personId} ink={ink} />
        ) : (
          <Notice kind="bad">This worksheet is no longer there.</Notice>
        )}
      </Modal.Body>
    </Modal>
  )
}

function SeenPage({ copy, facts, personId, ink }: Pick<Props, 'copy' | 'facts' | 'personId' | 'ink'>) {
  const edition = useEdition(copy.worksheetId, copy.edition)
  const surroundings = useMemo(
    () => ({ ...inLibrary(copy.worksheetId), seed: `${copy.slotKey}` }),
    [copy.worksheetId, copy.slotKey],
  )
  const names = new Map(facts.members.map((member) => [member.personId, fullName(member)]))
  return (
    <Loaded query={edition}>
      {({ content }) => {
        const laid = expandSections(forStudents(content), {
          members: copy.holders.map((holder) => ({ id: holder.personId, name: names.get(holder.personId) ?? '' })),
          groups: copy.places.map(({ id, name }) => ({ id, name })),
        })
        const places = { places: copy.places, reserved: reservedSpaces(content), guestIs: new Map() }
        return (
          <SheetContext value={surroundings}>
            <Sheet
              content={laid}
              ink={ink}
              toRead={copy.way === 'to read'}
              answer={(space) =>
                mayWriteAt({ personId }, places, space.id).may ? (
                  <EmptySpace space={space} />
                ) : (
                  <span className="not-theirs">
                    <EmptySpace space={space} />
                  </span>
                )
              }
            />
          </SheetContext>
        )
      }}
    </Loaded>
  )
}
