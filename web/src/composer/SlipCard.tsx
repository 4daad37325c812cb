import { type HandoutItem, type WholeProof, linkTitle } from '@gavrin/core'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { Blank } from './Blank'
import { CarryNote } from './CarryNote'
import { Fold } from './Fold'
import { PatternField } from './PatternField'
import { AudienceBlank } from './blanks/AudienceBlank'
import { MatchRules } from './blanks/MatchRules'
import {
  ClassmatesBlank,
  HoldersBlank,
  InviteBlank,
  OthersPlacesBlank,
  OwnCopiesBlank,
  PeersBlank,
  ViewersBlank,
  hasViewers,
  viewersWords,
  hasPlaces,
} from './blanks/PermissionBlanks'
import { WayBlank } from './blanks/WayBlank'
import { WorksheetBlank } from './blanks/WorksheetBlank'
import { OTHERS_PLACES_WORDS } from './slipWords'
import { type BlankProps, type WholeProps, columnNames } from './blanks/slip'
import type { SlipPart } from './queries'

interface Props extends WholeProps {
  readonly item: HandoutItem
  readonly proof: WholeProof<SlipPart>
}

/** One slip: a sentence with blanks that says what is given to whom, how, with which permissions, called what. */
export function SlipCard({ item, statement, facts, proof, change }: Props) {
  const alter = (alteration: Partial<HandoutItem>) =>
    change({
      ...statement,
      items: statement.items.map((other) => (other.id === item.id ? { ...other, ...alteration } : other)),
    })
  const props: BlankProps = { item, facts, alter }
  const toRead = item.way === 'to read'
  const alike = statement.items.filter(({ way }) => (way === 'to read') === toRead)
  const number = alike.length > 1 ? ` ${alike.findIndex(({ id }) => id === item.id) + 1}` : ''
  const newer = isNewerThere(props)
  return (
    <section className={toRead ? 'slip slip-read' : 'slip'} aria-label={`${toRead ? 'Slip to read' : 'Slip'}${number}`}>
      <div className="sentence">
        Give {item.link ? <LinkBlank {...props} /> : <WorksheetBlank {...props} />} to <AudienceBlank {...props} />{' '}
        {item.link ? <strong className="fixed">to read</strong> : <WayBlank {...props} />}
        {item.link ? (
          '.'
        ) : (
          <>
            {toRead ? '; they may ' : '. They may '}
            <HoldersBlank {...props} />
            {toRead ? (
              <>
                ; students <OwnCopiesBlank {...props} />.
              </>
            ) : (
              <>
                . Call it{' '}
                <PatternField
                  id={item.id}
                  pattern={item.pattern}
                  columns={columnNames(facts)}
                  change={(pattern) => alter({ pattern })}
                />
              </>
            )}
          </>
        )}
      </div>
      {newer && (
        <div className="slip-note">
          <EditionNote {...props} />
        </div>
      )}
      <CarryNote {...props} proof={proof} />
      {!item.link && <MoreOfSlip {...props} />}
      {statement.items.length > 1 && (
        <Button
          variant="link"
          size="sm"
          className="slip-remove"
          onClick={() => change({ ...statement, items: statement.items.filter(({ id }) => id !== item.id) })}
        >
          Take this slip out
        </Button>
      )}
    </section>
  )
}

/** Who else sees it, other worksheets for some, and which edition it is. */
function MoreOfSlip(props: BlankProps) {
  const { item } = props
  const shared = item.way === 'one together'
  const withOthers = item.way !== 'to read' && !shared
  const words = [
    ...(withOthers
      ? [
          `classmates ${CLASSMATES_WORDS[item.classmatesMay]}`,
          item.peers
            ? `${item.peers.each} peer ${item.peers.each === 1 ? 'reader' : 'readers'} each`
            : 'no peer readers',
          `students ${item.mayInvite ? 'may let classmates in' : 'let nobody in'}`,
        ]
      : []),
    ...(hasPlaces(item, props.facts) ? [`others’ places ${OTHERS_PLACES_WORDS[item.othersPlaces]}`] : []),
    ...(hasViewers(item) && !item.viewersReadComments ? [`who may only view ${viewersWords(item)}`] : []),
    ...(item.match ? [`other worksheets by ${item.match.of.name}`] : shared ? [] : ['the same worksheet for all']),
    ...(item.edition === null ? [] : [`edition ${item.edition}`]),
  ]
  if (words.length === 0) return null
  return (
    <Fold label="And:" words={words}>
      {withOthers && (
        <div className="sentence">
          Classmates may <ClassmatesBlank {...props} />; <PeersBlank {...props} />; students <InviteBlank {...props} />.
        </div>
      )}
      <div className="sentence">
        <OthersPlacesBlank {...props} /> <ViewersBlank {...props} />
      </div>
      {!shared && <MatchRules {...props} />}
      {!isNewerThere(props) && <EditionNote {...props} />}
    </Fold>
  )
}

const CLASSMATES_WORDS = {
  none: 'do not see it',
  view: 'may view it',
  comment: 'may comment on it',
  edit: 'may edit it',
} as const

function LinkBlank({ item, alter }: BlankProps) {
  const [typed, setTyped] = useState({ address: item.link?.address ?? '', title: item.link?.title ?? '' })
  const keep = (next: typeof typed) => {
    setTyped(next)
    const address = next.address.trim()
    if (/^https?:\/\/[^\s/]/i.test(address)) alter({ link: { address, title: next.title.trim() } })
  }
  const words = (item.link && linkTitle(item.link)) || 'a link'
  const isBad = typed.address.trim() !== '' && !/^https?:\/\/[^\s/]/i.test(typed.address.trim())
  return (
    <Blank stays label={`Link: ${words}`} value={<bdi>{words}</bdi>} open={isBad || !typed.address}>
      <div className="link-fields">
        <Form.Group controlId={`link-address-${item.id}`}>
          <Form.Label>Address</Form.Label>
          <Form.Control
            size="sm"
            type="url"
            value={typed.address}
            isInvalid={isBad}
            placeholder="https://"
            onChange={({ target }) => keep({ ...typed, address: target.value })}
          />
          <Form.Control.Feedback type="invalid">
            A link begins with https:// or http:// and leads to a page.
          </Form.Control.Feedback>
        </Form.Group>
        <Form.Group controlId={`link-title-${item.id}`}>
          <Form.Label>What it is</Form.Label>
          <Form.Control
            size="sm"
            value={typed.title}
            maxLength={200}
            onChange={({ target }) => keep({ ...typed, title: target.value })}
          />
        </Form.Group>
      </div>
    </Blank>
  )
}

/** Whether there is a newer edition than is given, or than copies have. */
function isNewerThere({ item, facts }: BlankProps): boolean {
  const worksheet = facts.worksheets.find(({ id }) => id === item.worksheetId)
  const newest = worksheet?.editions.at(-1)?.number
  if (!worksheet || worksheet.builtIn || item.edition === null || newest === undefined) return false
  return (
    item.edition < newest ||
    facts.parts.some(({ existing }) =>
      existing.copies.some(
        (copy) =>
          copy.itemId === item.id && copy.worksheetId === worksheet.id && !copy.setAside && copy.edition < newest,
      ),
    )
  )
}

/** Which edition is given; where a newer one is there than copies have, what is different, and to whom it goes. */
function EditionNote({ item, facts, alter }: BlankProps) {
  const worksheet = facts.worksheets.find(({ id }) => id === item.worksheetId)
  const newest = worksheet?.editions.at(-1)
  if (!worksheet || item.edition === null || !newest) return null
  if (worksheet.builtIn) return null
  const copies = facts.parts
    .flatMap(({ existing }) => existing.copies)
    .filter((copy) => copy.itemId === item.id && copy.worksheetId === worksheet.id && !copy.setAside)
  const older = copies.filter(({ edition }) => edition < newest.number)
  const lowest = Math.min(...older.map(({ edition }) => edition))
  const held = Object.keys(item.earlier).length
  if (older.length === 0 && newest.number <= item.edition)
    return (
      <span>
        Edition {item.edition}. <Link to={`/worksheets/${worksheet.id}`}>Open the worksheet</Link>{' '}
      </span>
    )
  return (
    <span className="edition-note">
      {older.length > 0
        ? `Edition ${newest.number} is newer than what ${older.length} ${older.length === 1 ? 'copy has' : 'copies have'}. `
        : `Edition ${item.edition}; edition ${newest.number} is newer. `}
      {older.length > 0 && (
        <Link to={`/worksheets/${worksheet.id}/compare?from=${lowest}&to=${newest.number}`}>See the difference</Link>
      )}{' '}
      {item.edition < newest.number ? (
        <Button variant="link" size="sm" onClick={() => alter({ edition: newest.number, earlier: {} })}>
          {older.length > 0 ? 'Send it to all' : `Give edition ${newest.number}`}
        </Button>
      ) : (
        older.length > 0 && (
          <>
            {held > 0 ? `${held} stay as they are. ` : 'It goes to all. '}
            <Button variant="link" size="sm" onClick={() => alter({ edition: lowest, earlier: {} })}>
              Send it to nobody
            </Button>
          </>
        )
      )}
      {older.length > 1 && item.edition === newest.number && (
        <Blank stays label="Who gets the newer edition" value="to some">
          <div className="blank-list">
            {older.map((copy) => (
              <Form.Check
                key={copy.slotKey}
                id={`edition-${copy.slotKey}`}
                label={<bdi>{copy.title}</bdi>}
                checked={item.earlier[copy.slotKey] === undefined}
                onChange={({ target }) => {
                  const { [copy.slotKey]: _, ...rest } = item.earlier
                  alter({ earlier: target.checked ? rest : { ...rest, [copy.slotKey]: copy.edition } })
                }}
              />
            ))}
          </div>
        </Blank>
      )}{' '}
    </span>
  )
}
