import { CHECKS, type Checks, type CoverNote, ROUNDS, type Rounds, noteStart, plainNote } from '@gavrin/core'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Blank, BlankChoice } from './Blank'
import { MarkingBlank } from './MarkingBlank'
import { NoteField } from './NoteField'
import { Rubric } from './RubricLines'
import { type WholeProps, columnNames } from './blanks/slip'

/** The cover note and how it is marked. */
export function MoreLines(props: WholeProps) {
  return (
    <div className="more-lines">
      <div className="sentence">
        Cover note: <CoverBlank {...props} />. It is <MarkingBlank {...props} />.
      </div>
      <CoverPart {...props} />
      <Rubric {...props} />
      <LateDeduction {...props} />
      <RoundsLine {...props} />
      <ChecksLine {...props} />
    </div>
  )
}

const GREETING = {
  type: 'doc' as const,
  content: [
    {
      type: 'paragraph',
      content: [
        { type: 'text', text: 'Dear ' },
        { type: 'nameToken', attrs: { token: 'first' } },
        { type: 'text', text: ',' },
      ],
    },
    { type: 'paragraph' },
  ],
}

function CoverBlank({ statement, change }: WholeProps) {
  const { cover } = statement
  const set = (by: CoverNote['by'] | null) =>
    change({
      ...statement,
      cover: by && { text: cover?.text ?? GREETING, staffCopied: cover?.staffCopied ?? false, by },
    })
  const words = cover ? `${cover.by === 'mail' ? 'by mail' : 'on their desk'}: “${noteStart(cover.text, 24)}”` : 'none'
  return (
    <Blank label={`Cover note: ${words}`} value={words}>
      <BlankChoice chosen={!cover} choose={() => set(null)}>
        none
      </BlankChoice>
      <BlankChoice chosen={cover?.by === 'mail'} choose={() => set('mail')}>
        by mail <span className="soft">and on their desk; who has no e-mail reads it there</span>
      </BlankChoice>
      <BlankChoice chosen={cover?.by === 'here'} choose={() => set('here')}>
        on their desk <span className="soft">beside the copy, no mail</span>
      </BlankChoice>
    </Blank>
  )
}

function CoverPart({ statement, facts, change }: WholeProps) {
  const { cover } = statement
  if (!cover) return null
  return (
    <div className="slip-part">
      <NoteField
        id="cover"
        label="Cover note"
        value={cover.text}
        columns={columnNames(facts)}
        withTokens
        change={(text) => change({ ...statement, cover: { ...cover, text: text ?? plainNote('') } })}
      />
      <Form.Check
        id="staff-copied"
        label="The staff of the class get every one too"
        checked={cover.staffCopied}
        onChange={({ target }) => change({ ...statement, cover: { ...cover, staffCopied: target.checked } })}
      />
    </div>
  )
}

/** What work that comes late loses. */
function LateDeduction({ statement, change }: WholeProps) {
  const { lateDeduction: rule, marking } = statement
  if (marking.kind === 'ungraded' || marking.kind === 'not marked') return null
  const set = (to: typeof rule) => change({ ...statement, lateDeduction: to })
  if (!rule)
    return (
      <Button variant="link" size="sm" onClick={() => set({ perDay: 10, atLeast: 50 })}>
        Late work loses points
      </Button>
    )
  const percent = (text: string, least: number) => Math.max(least, Math.min(100, Math.round(Number(text)) || least))
  return (
    <div className="slip-part late-deduction">
      Late work loses
      <Form.Control
        size="sm"
        type="number"
        min={1}
        max={100}
        aria-label="Per cent that late work loses a day"
        value={rule.perDay}
        onChange={({ target }) => set({ ...rule, perDay: percent(target.value, 1) })}
      />
      % of the most for each day, and keeps
      <Form.Control
        size="sm"
        type="number"
        min={0}
        max={100}
        aria-label="Per cent that it keeps in any case"
        value={rule.atLeast}
        onChange={({ target }) => set({ ...rule, atLeast: percent(target.value, 0) })}
      />
      % of its own in any case.
      <Button variant="link" size="sm" onClick={() => set(null)}>
        It loses nothing
      </Button>
    </div>
  )
}

const ROUNDS_WORDS = {
  last: 'the last mark counts',
  best: 'the best mark counts',
  mean: 'the mean of the marks counts',
} as const satisfies Record<Rounds, string>

/** Which mark counts in the mark book where copies were opened again. */
function RoundsLine({ statement, change }: WholeProps) {
  const { rounds, marking } = statement
  if (marking.kind === 'ungraded' || marking.kind === 'not marked') return null
  return (
    <div className="sentence">
      When it is opened again to be improved,{' '}
      <Blank label={`Rounds: ${ROUNDS_WORDS[rounds]}`} value={ROUNDS_WORDS[rounds]}>
        {ROUNDS.map((how) => (
          <BlankChoice key={how} chosen={rounds === how} choose={() => change({ ...statement, rounds: how })}>
            {ROUNDS_WORDS[how]}
          </BlankChoice>
        ))}
      </Blank>
      .
    </div>
  )
}

export const CHECKS_WORDS = {
  no: 'only when it is handed back',
  'when submitted': 'once they have submitted',
  'while writing': 'while they write',
} as const satisfies Record<Checks, string>

/** When those who write are told which of their answers are right by the key. */
function ChecksLine({ statement, change }: WholeProps) {
  const { checks } = statement
  return (
    <div className="sentence">
      Students are told which answers are right{' '}
      <Blank label={`Checking: ${CHECKS_WORDS[checks]}`} value={CHECKS_WORDS[checks]}>
        {CHECKS.map((when) => (
          <BlankChoice key={when} chosen={checks === when} choose={() => change({ ...statement, checks: when })}>
            {CHECKS_WORDS[when]}{' '}
            {when !== 'no' && <span className="soft">for practice: where the worksheet has a key</span>}
          </BlankChoice>
        ))}
      </Blank>
      .
    </div>
  )
}

export function Instructions({ statement, change }: WholeProps) {
  const { instructions } = statement
  const [open, setOpen] = useState(instructions !== null)
  if (!open)
    return (
      <Button variant="link" size="sm" onClick={() => setOpen(true)}>
        Add instructions
      </Button>
    )
  return (
    <div className="slip-part">
      <NoteField
        id="instructions"
        label="Instructions"
        value={instructions}
        columns={[]}
        withTokens={false}
        change={(text) => change({ ...statement, instructions: text })}
      />
      <span className="soft">Stands above every copy. Paste an address to make a link.</span>
    </div>
  )
}
