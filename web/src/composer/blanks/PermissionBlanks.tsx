import {
  type HandoutItem,
  LOOK_FOR_LIMITS,
  type OthersPlaces,
  type Peers,
  type Permission,
  cleanText,
  listName,
  plainPeers,
} from '@gavrin/core'
import { useState } from 'react'
import { Dropdown, Form } from 'react-bootstrap'
import { MomentField } from '../../ui/MomentField'
import { timeInWords } from '../../ui/time'
import { OVER_PAGE } from '../../ui/overPage'
import { Blank, BlankChoice } from '../Blank'
import { OTHERS_PLACES_WORDS } from '../slipWords'
import { type BlankProps, membersOf } from './slip'

type Word = { readonly may: Permission; readonly word: string; readonly about: string }

const HOLDERS: readonly Word[] = [
  { may: 'edit', word: 'edit', about: 'write in the answer spaces and submit' },
  { may: 'comment', word: 'comment', about: 'read, and comment beside it' },
  { may: 'view', word: 'only view', about: 'nothing can be written' },
]

const CLASSMATES: readonly Word[] = [
  { may: 'none', word: 'not see it', about: 'each sees their own' },
  { may: 'view', word: 'view it', about: 'everybody reads everybody’s' },
  { may: 'comment', word: 'comment on it', about: 'everybody reads and comments' },
  { may: 'edit', word: 'edit it', about: 'everybody writes in everybody’s' },
]

function PermissionBlank({
  label,
  words,
  may,
  choose,
}: {
  label: string
  words: readonly Word[]
  may: Permission
  choose: (may: Permission) => void
}) {
  const chosen = words.find((candidate) => candidate.may === may) ?? words[0]!
  return (
    <Blank label={`${label}: ${chosen.word}`} value={chosen.word}>
      {words.map(({ may: offered, word, about }) => (
        <BlankChoice key={offered} chosen={offered === may} choose={() => choose(offered)}>
          {word} <span className="soft">{about}</span>
        </BlankChoice>
      ))}
    </Blank>
  )
}

/** What those may do who a copy is for. */
export function HoldersBlank({ item, alter }: BlankProps) {
  return (
    <PermissionBlank
      label="They may"
      words={item.way === 'to read' ? HOLDERS.slice(1) : HOLDERS}
      may={item.holdersMay}
      choose={(holdersMay) => alter({ holdersMay })}
    />
  )
}

export function ClassmatesBlank({ item, alter }: BlankProps) {
  return (
    <PermissionBlank
      label="Classmates may"
      words={CLASSMATES}
      may={item.classmatesMay}
      choose={(classmatesMay) => alter({ classmatesMay })}
    />
  )
}

/** Whether students may let classmates into their copy. */
export function InviteBlank({ item, alter }: BlankProps) {
  const words = item.mayInvite ? 'may let classmates in' : 'let nobody in'
  return (
    <Blank label={`Students: ${words}`} value={words}>
      <BlankChoice chosen={!item.mayInvite} choose={() => alter({ mayInvite: false })}>
        let nobody in <span className="soft">only you decide who sees a copy</span>
      </BlankChoice>
      <BlankChoice chosen={item.mayInvite} choose={() => alter({ mayInvite: true })}>
        may let classmates in{' '}
        <span className="soft">whose copy it is shows it to classmates of their choice, to read or to comment</span>
      </BlankChoice>
    </Blank>
  )
}

const PLACES: readonly { readonly of: OthersPlaces; readonly about: string }[] = [
  { of: 'read', about: 'everybody reads what the others have, and writes in their own' },
  { of: 'hidden until due', about: 'each sees their own; at the due time all are shown' },
  { of: 'hidden', about: 'each sees their own, and you see all' },
]

/** Whether the places of others can be read; null where a worksheet has no places, or each has a copy of their own. */
export function OthersPlacesBlank({ item, facts, alter }: BlankProps) {
  if (!hasPlaces(item, facts)) return null
  const words = OTHERS_PLACES_WORDS[item.othersPlaces]
  return (
    <>
      Others’ places{' '}
      <Blank label={`Others’ places: ${words}`} value={words}>
        {PLACES.map(({ of, about }) => (
          <BlankChoice key={of} chosen={item.othersPlaces === of} choose={() => alter({ othersPlaces: of })}>
            {OTHERS_PLACES_WORDS[of]} <span className="soft">{about}</span>
          </BlankChoice>
        ))}
      </Blank>
      .
    </>
  )
}

/** Whether those to whom something is given to read may make a copy of it to write in. */
export function OwnCopiesBlank({ item, alter }: BlankProps) {
  const words = item.ownCopies ? 'may make a copy of their own' : 'only read the original'
  return (
    <Blank label={`Students: ${words}`} value={words}>
      <BlankChoice chosen={!item.ownCopies} choose={() => alter({ ownCopies: false })}>
        only read the original <span className="soft">nobody writes in it</span>
      </BlankChoice>
      <BlankChoice chosen={item.ownCopies} choose={() => alter({ ownCopies: true })}>
        may make a copy of their own{' '}
        <span className="soft">to write in and submit, due as the others; you find it on the board</span>
      </BlankChoice>
    </Blank>
  )
}

/** Whether who may only view reads what is said beside it; null where nobody may only view. */
export function ViewersBlank({ item, alter }: BlankProps) {
  if (!hasViewers(item)) return null
  const words = viewersWords(item)
  return (
    <>
      Who may only view{' '}
      <Blank label={`Who may only view: ${words}`} value={words}>
        <BlankChoice chosen={item.viewersReadComments} choose={() => alter({ viewersReadComments: true })}>
          reads comments
        </BlankChoice>
        <BlankChoice chosen={!item.viewersReadComments} choose={() => alter({ viewersReadComments: false })}>
          does not read comments <span className="soft">but their own questions, and what is answered to them</span>
        </BlankChoice>
      </Blank>
      .
    </>
  )
}

export const viewersWords = ({ viewersReadComments }: Pick<HandoutItem, 'viewersReadComments'>): string =>
  viewersReadComments ? 'reads comments' : 'does not read comments'

/** Whether somebody may only view what is given. */
export const hasViewers = ({ holdersMay, classmatesMay, peers }: HandoutItem): boolean =>
  [holdersMay, classmatesMay, peers?.may].includes('view')

/** Whether several who share a copy have places of their own in it. */
export function hasPlaces(item: HandoutItem, facts: Pick<BlankProps['facts'], 'worksheets'>): boolean {
  if (item.way !== 'one together' && item.way !== 'one per group') return false
  const worksheet = facts.worksheets.find(({ id }) => id === item.worksheetId)
  const edition = worksheet?.editions.find(({ number }) => number === item.edition)
  return (edition?.memberSpaces ?? 0) > 0 || (item.way === 'one together' && (edition?.groupSpaces ?? 0) > 0)
}

/** The few who read a copy besides. */
export function PeersBlank({ item, alter }: BlankProps) {
  const { peers } = item
  const words = peers ? `${peers.each} peer ${peers.each === 1 ? 'reader' : 'readers'}` : 'no peer readers'
  const set = (alteration: Partial<Peers> | null) =>
    alter({ peers: alteration && { ...(peers ?? plainPeers(2)), ...alteration } })
  return (
    <>
      <Blank stays label={`Peer readers: ${words}`} value={words}>
        <BlankChoice chosen={!peers} choose={() => set(null)}>
          no peer readers <span className="soft">only its holder and the staff read a copy</span>
        </BlankChoice>
        {[1, 2, 3, 4].map((each) => (
          <BlankChoice key={each} chosen={peers?.each === each} choose={() => set({ each })}>
            {each} for each copy <span className="soft">everyone reads {each}, nobody their own, group mates last</span>
          </BlankChoice>
        ))}
        {peers && (
          <>
            <Dropdown.Divider />
            <Dropdown.Item
              as="button"
              type="button"
              onClick={() => set({ seed: (peers.seed % 1_000_000) + 1, chosen: {} })}
            >
              Choose others <span className="soft">who reads whom is in the proof; change one by its row</span>
            </Dropdown.Item>
          </>
        )}
      </Blank>
      {peers && (
        <>
          {' '}
          may{' '}
          <PermissionBlank
            label="Peer readers may"
            words={HOLDERS.slice(1)}
            may={peers.may}
            choose={(may) => set({ may: may === 'view' ? 'view' : 'comment' })}
          />
          , look for <LookForBlank peers={peers} set={set} />
        </>
      )}
    </>
  )
}

/** What peer readers look for, until when they read, and whether they are named. */
function LookForBlank({ peers, set }: { peers: Peers; set: (alteration: Partial<Peers>) => void }) {
  const { sentences, letters } = LOOK_FOR_LIMITS
  const [typed, setTyped] = useState(peers.lookFor.join('\n'))
  const lines = linesOf(typed)
  const problem =
    lines.length > sentences
      ? `Readers can be asked for up to ${sentences} things; these are ${lines.length}.`
      : lines.some((line) => line.length > letters)
        ? `Each takes up to ${letters} letters.`
        : null
  const words =
    peers.lookFor.length === 0
      ? 'what they like'
      : peers.lookFor.length === 1
        ? '1 thing'
        : `${peers.lookFor.length} things`
  const value = [
    words,
    ...(peers.until === null ? [] : [`until ${timeInWords(peers.until)}`]),
    ...(peers.named ? [] : ['without their names']),
  ].join(', ')
  return (
    <Blank stays label={`Peer readers look for: ${value}`} value={value}>
      <div className="link-fields">
        <Form.Group controlId="peers-look-for">
          <Form.Label>What they look for, one in each line</Form.Label>
          <Form.Control
            as="textarea"
            rows={4}
            size="sm"
            value={typed}
            isInvalid={problem !== null}
            placeholder="Is each step clear? What would you ask the writer?"
            onChange={({ target }) => {
              setTyped(target.value)
              const next = linesOf(target.value)
              if (next.length <= sentences && next.every((line) => line.length <= letters)) set({ lookFor: next })
            }}
          />
          <Form.Control.Feedback type="invalid">{problem}</Form.Control.Feedback>
        </Form.Group>
        <div>
          <span>Until (empty: not said)</span>
          <MomentField
            what="Until, for peer readers"
            at={peers.until}
            usual="16:00"
            change={(until) => set({ until })}
          />
        </div>
        <Form.Check
          type="switch"
          id="peers-named"
          label={peers.named ? 'the writer sees who says what' : 'the writer does not see who says what; you do'}
          checked={peers.named}
          onChange={({ target }) => set({ named: target.checked })}
        />
      </div>
    </Blank>
  )
}

const linesOf = (typed: string): string[] => typed.split('\n').map(cleanText).filter(Boolean)

/** Who reads one copy, chosen by hand. */
export function PeersOfCopy({
  item,
  facts,
  alter,
  slotKey,
  holders,
  readers,
}: BlankProps & { slotKey: string; holders: readonly string[]; readers: readonly string[] }) {
  if (!item.peers) return null
  const members = membersOf(facts).filter(({ personId }) => !holders.includes(personId))
  const set = (chosen: readonly string[] | null) => {
    const { [slotKey]: _, ...others } = item.peers!.chosen
    alter({ peers: { ...item.peers!, chosen: chosen ? { ...others, [slotKey]: chosen } : others } })
  }
  return (
    <Dropdown autoClose="outside">
      <Dropdown.Toggle variant="outline-dark" size="sm" id="peers-of-copy">
        Its peer readers
      </Dropdown.Toggle>
      <Dropdown.Menu className="blank-menu" popperConfig={OVER_PAGE}>
        <BlankChoice chosen={!item.peers.chosen[slotKey]} choose={() => set(null)}>
          as the program chooses
        </BlankChoice>
        <div className="blank-list">
          {members.map((member) => (
            <Form.Check
              key={member.personId}
              id={`peer-${member.personId}`}
              label={<bdi>{listName(member)}</bdi>}
              checked={readers.includes(member.personId)}
              onChange={({ target }) =>
                set(
                  target.checked
                    ? [...readers, member.personId]
                    : readers.filter((personId) => personId !== member.personId),
                )
              }
            />
          ))}
        </div>
      </Dropdown.Menu>
    </Dropdown>
  )
}
