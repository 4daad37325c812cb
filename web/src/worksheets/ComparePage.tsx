import { type BlockChange, type WorksheetContent, compareContents } from '@gavrin/core'
import { useEffect, useMemo } from 'react'
import { Form } from 'react-bootstrap'
import { Link, useParams, useSearchParams } from 'react-router'
import { Loaded } from '../ui/Loaded'
import { WordMarks } from '../ui/WordMarks'
import { Notice } from '../ui/Notice'
import './library.css'
import { type WorksheetOpened, useEdition, useWorksheet } from './queries'

const IS_WORDS: Readonly<Record<BlockChange['is'], string>> = {
  added: 'new',
  removed: 'taken out',
  changed: 'changed',
  moved: 'moved',
}

/** What changed between two editions, block by block. */
export function ComparePage() {
  const { worksheetId = '' } = useParams()
  const query = useWorksheet(worksheetId)
  return <Loaded query={query}>{(worksheet) => <Compare worksheet={worksheet} />}</Loaded>
}

function Compare({ worksheet }: { worksheet: WorksheetOpened }) {
  const [search, setSearch] = useSearchParams()
  const newest = worksheet.editions[0]?.number ?? 0
  const from = Number(search.get('from')) || newest
  const to = Number(search.get('to')) || 'draft'
  const before = useEdition(worksheet.id, from)
  const after = useEdition(worksheet.id, to === 'draft' ? 0 : to)
  const later = to === 'draft' ? worksheet.draft : after.data?.content
  useEffect(() => {
    document.title = `What changed: ${worksheet.title} – Gavrin`
  }, [worksheet.title])
  const choose = (which: 'from' | 'to', value: string) =>
    setSearch({ from: String(from), to: String(to), [which]: value }, { replace: true })
  return (
    <main className="page">
      <div className="page-head">
        <h1>What changed</h1>
        <span className="soft">
          <bdi>{worksheet.title}</bdi>
        </span>
        <span className="page-acts">
          <Link className="btn btn-outline-dark" to={`/worksheets/${worksheet.id}`}>
            Back to the worksheet
          </Link>
        </span>
      </div>
      {newest === 0 ? (
        <p className="soft">No edition was kept yet: there is nothing to compare.</p>
      ) : (
        <>
          <div className="compare-line">
            <span>from</span>
            <EditionChoice
              label="Earlier edition"
              worksheet={worksheet}
              value={String(from)}
              change={(value) => choose('from', value)}
            />
            <span>to</span>
            <EditionChoice
              label="Later edition"
              worksheet={worksheet}
              value={String(to)}
              withDraft
              change={(value) => choose('to', value)}
            />
          </div>
          <Loaded query={before}>{(edition) => later && <Changes before={edition.content} after={later} />}</Loaded>
        </>
      )}
    </main>
  )
}

interface ChoiceProps {
  readonly label: string
  readonly worksheet: WorksheetOpened
  readonly value: string
  readonly withDraft?: boolean
  readonly change: (value: string) => void
}

function EditionChoice({ label, worksheet, value, withDraft = false, change }: ChoiceProps) {
  return (
    <Form.Select size="sm" aria-label={label} value={value} onChange={({ target }) => change(target.value)}>
      {withDraft && <option value="draft">the draft</option>}
      {worksheet.editions.map(({ number }) => (
        <option key={number} value={number}>
          edition {number}
        </option>
      ))}
    </Form.Select>
  )
}

/** The list that a teacher reads before a corrected worksheet goes out. */
export function Changes({ before, after }: { readonly before: WorksheetContent; readonly after: WorksheetContent }) {
  const changes = useMemo(() => compareContents(before, after), [before, after])
  const { blocks, page, newSpaces, goneSpaces, changedKinds } = changes
  if (blocks.length === 0 && page.length === 0) return <p className="soft">Nothing changed between these two.</p>
  return (
    <>
      {goneSpaces.length > 0 && (
        <Notice kind="look">
          {goneSpaces.length === 1 ? 'One answer space is' : `${goneSpaces.length} answer spaces are`} gone: what was
          written there is kept with the copies. {goneSpaces.map(({ label }) => label).join('; ')}
        </Notice>
      )}
      {changedKinds.length > 0 && (
        <Notice kind="look">
          Of another kind now, so that answers do not fit any more: {changedKinds.map(({ label }) => label).join('; ')}
        </Notice>
      )}
      <p className="soft">
        {blocks.length} {blocks.length === 1 ? 'block' : 'blocks'}
        {newSpaces.length > 0 && `, ${newSpaces.length} new answer ${newSpaces.length === 1 ? 'space' : 'spaces'}`}
      </p>
      {page.map((words) => (
        <div key={words} className="block-change">
          <span className="what">page</span>
          <p>{words}</p>
        </div>
      ))}
      {blocks.map((change) => (
        <div key={change.id} className="block-change">
          <span className="what">
            {IS_WORDS[change.is]}
            {change.alsoMoved && ', moved'}
          </span>
          <div>
            <p dir="auto">
              <WordMarks pieces={change.words} />
            </p>
            {change.details.map((detail) => (
              <p key={detail} className="soft">
                {detail}
              </p>
            ))}
          </div>
        </div>
      ))}
    </>
  )
}
