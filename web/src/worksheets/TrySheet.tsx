import {
  type AnswerSpace,
  type CheckedCopy,
  type CopyAudience,
  type FileAnswer,
  type Named,
  type WorksheetContent,
  answerSpaces,
  checkCopy,
  expandSections,
  newAnswerDoc,
  readAnswer,
} from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { Form } from 'react-bootstrap'
import { useParams, useSearchParams } from 'react-router'
import type * as Y from 'yjs'
import { AnswerField } from '../sheet/AnswerField'
import { Sheet } from '../sheet/Sheet'
import { SheetContext, type SheetSurroundings, inLibrary } from '../sheet/surroundings'
import { Loaded } from '../ui/Loaded'
import { type GroupSet, type Student, groupsKey, rosterKey } from '../class/queries'
import { api } from '../ui/api'
import './library.css'
import { useWorksheet } from './queries'

/** The page that is tried, alone in its frame. */
export default function TrySheet() {
  const { worksheetId = '' } = useParams()
  const [search] = useSearchParams()
  const worksheet = useWorksheet(worksheetId)
  const audience = useAudience(search.get('for') ?? '')
  return (
    <Loaded query={worksheet}>
      {({ draft, title }) => audience && <Filled id={worksheetId} title={title} content={draft} audience={audience} />}
    </Loaded>
  )
}

/** Whom the sections are laid open for: nobody, one student of a class, or its first group and all groups. */
function useAudience(wanted: string): CopyAudience | null {
  const [classId = '', setId = ''] = wanted.split(' ')
  const roster = useQuery({
    queryKey: rosterKey(classId),
    queryFn: () => api.get<Student[]>(`classes/${classId}/roster`),
    enabled: classId !== '',
  })
  const sets = useQuery({
    queryKey: groupsKey(classId),
    queryFn: () => api.get<GroupSet[]>(`classes/${classId}/group-sets`),
    enabled: setId !== '',
  })
  return useMemo(() => {
    if (!classId) return { members: [], groups: [] }
    if (!roster.data || (setId && !sets.data)) return null
    const named = new Map(
      roster.data
        .filter(({ leftAt }) => leftAt === null)
        .map(({ personId, first, last }): [string, Named] => [
          personId,
          { id: personId, name: [first, last].filter(Boolean).join(' ') },
        ]),
    )
    const [one] = named.values()
    const set = sets.data?.find(({ id }) => id === setId)
    if (!set) return { members: one ? [one] : [], groups: [] }
    const first = set.groups.find(({ personIds }) => personIds.length > 0)
    return {
      members: (first?.personIds ?? []).flatMap((id) => named.get(id) ?? []),
      groups: set.groups.map(({ id, name }) => ({ id, name })),
    }
  }, [classId, setId, roster.data, sets.data])
}

interface FilledProps {
  readonly id: string
  readonly title: string
  readonly content: WorksheetContent
  readonly audience: CopyAudience
}

function Filled({ id, title, content, audience }: FilledProps) {
  const laid = useMemo(() => expandSections(content, audience), [content, audience])
  const spaces = useMemo(() => answerSpaces(laid), [laid])
  // Answers live in this page only.
  const [docs] = useState(() => new Map<string, Y.Doc>())
  const docOf = useMemo(() => {
    const kinds = new Map(spaces.map((space) => [space.id, space.kind]))
    return (space: string): Y.Doc => {
      let doc = docs.get(space)
      if (!doc) docs.set(space, (doc = newAnswerDoc(kinds.get(space) ?? 'line')))
      return doc
    }
  }, [docs, spaces])
  const surroundings = useMemo((): SheetSurroundings => {
    const urls = new Map<string, string>()
    return {
      ...inLibrary(id),
      docOf,
      seed: 'try',
      files: {
        add: (_, file): Promise<FileAnswer> => {
          const fileId = crypto.randomUUID()
          urls.set(fileId, URL.createObjectURL(file))
          return Promise.resolve({ id: fileId, name: file.name })
        },
        url: (fileId) => urls.get(fileId) ?? '',
      },
    }
  }, [id, docOf])
  const [checking, setChecking] = useState(true)
  const checked = useChecked(laid, spaces, docOf)
  return (
    <div className="try-page" data-ink="deep-blue">
      <header className="try-line">
        <h1>
          <bdi>{title}</bdi>
        </h1>
        {checked.checkable > 0 && checking && (
          <p className="try-sum" role="status">
            {checked.right} of {checked.checkable} checked answers right
            {checked.possible > 0 && `, ${checked.points} of ${checked.possible} points`}
          </p>
        )}
        {checked.checkable > 0 && (
          <Form.Check
            id="show-checks"
            label="Show what is right"
            checked={checking}
            onChange={({ target }) => setChecking(target.checked)}
          />
        )}
      </header>
      <SheetContext value={surroundings}>
        <Sheet
          content={laid}
          ink="deep blue"
          answer={(space, label) => <AnswerField space={space} doc={docOf(space.id)} label={label} />}
          under={(space) => checking && <CheckWords space={space} checked={checked} />}
        />
      </SheetContext>
    </div>
  )
}

function CheckWords({ space, checked }: { space: AnswerSpace; checked: CheckedCopy }) {
  const check = checked.bySpace.get(space.id)
  if (check?.is === 'right') return <span className="check-right"> ✓ right</span>
  if (check?.is === 'wrong') return <span className="check-wrong"> ✗ not yet{check.why && `: ${check.why}`}</span>
  return null
}

/** What checking the answers tells, renewed as they are written. */
function useChecked(
  content: WorksheetContent,
  spaces: readonly AnswerSpace[],
  docOf: (id: string) => Y.Doc,
): CheckedCopy {
  const [changes, setChanges] = useState(0)
  useEffect(() => {
    const changed = () => setChanges((count) => count + 1)
    const docs = spaces.map(({ id }) => docOf(id))
    docs.forEach((doc) => doc.on('update', changed))
    return () => docs.forEach((doc) => doc.off('update', changed))
  }, [spaces, docOf])
  return useMemo(
    () => checkCopy(content, (space) => readAnswer(space, docOf(space.id))),
    // `changes` counts what was written: the documents themselves stay the same.
    // oxlint-disable-next-line react/exhaustive-deps
    [content, docOf, changes],
  )
}
