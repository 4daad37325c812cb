import { type AnswerSpace, drawnSpace, isAnswerSpace, keyWords } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type ReactNode, useEffect, useMemo } from 'react'
import { Button } from 'react-bootstrap'
import { Link, useNavigate, useParams } from 'react-router'
import { Sheet } from '../sheet/Sheet'
import { SheetContext, inLibrary } from '../sheet/surroundings'
import { Loaded } from '../ui/Loaded'
import { Menu } from '../ui/Menu'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { EmptySpace, OptionList } from '../sheet/place'
import { WriteOutMenu } from './WriteOutMenu'
import './library.css'
import { type WorksheetOpened, useWorksheet } from './queries'
import { usePaper } from './usePaper'
import type { Answers, Bodies } from '../contract'

/** A worksheet as it is printed, with empty answer spaces. */
export function ReadPage() {
  const { worksheetId = '' } = useParams()
  const query = useWorksheet(worksheetId)
  return <Loaded query={query}>{(worksheet) => <ReadSheet worksheet={worksheet} />}</Loaded>
}

/** A worksheet with its answer key in the answer spaces. */
export function KeyPage() {
  const { worksheetId = '' } = useParams()
  const query = useWorksheet(worksheetId)
  return <Loaded query={query}>{(worksheet) => <ReadSheet worksheet={worksheet} withKey />}</Loaded>
}

interface Props {
  readonly worksheet: WorksheetOpened
  readonly withKey?: boolean
}

/** A worksheet to read and print, not to write in. */
export function ReadSheet({ worksheet, withKey = false }: Props) {
  const { id, title, draft } = worksheet
  const client = useQueryClient()
  const navigate = useNavigate()
  const surroundings = useMemo(() => inLibrary(id), [id])
  usePaper(draft.page)
  useEffect(() => {
    document.title = `${withKey ? 'Answer key: ' : ''}${title} – Gavrin`
  }, [title, withKey])
  const copy = useMutation({
    mutationFn: () => api.post<Answers['POST worksheets/{worksheetId}/duplicate']>(`worksheets/${id}/duplicate`),
    onSuccess: ({ id: made }) => navigate(`/worksheets/${made}`),
  })
  const back = useMutation({
    mutationFn: () =>
      api.post('worksheets/archive', { ids: [id], archived: false } satisfies Bodies['POST worksheets/archive']),
    onSuccess: () => client.invalidateQueries({ queryKey: ['worksheet', id] }),
  })
  return (
    <main className="read-page">
      <div className="read-head">
        <Link
          to={withKey || worksheet.mayChange ? `/worksheets/${id}` : '/worksheets'}
          className="back"
          aria-label="Back"
        >
          ←
        </Link>
        <h1>
          <bdi>{title}</bdi>
        </h1>
        <span className="soft">{aboutWords(worksheet, withKey)}</span>
        <span className="page-acts">
          {!withKey &&
            !worksheet.mayChange &&
            (worksheet.archived && worksheet.isOwner ? (
              <Button onClick={() => back.mutate()}>Bring it back</Button>
            ) : (
              <Button variant="outline-dark" onClick={() => copy.mutate()}>
                Begin another one from it
              </Button>
            ))}
          <Link className="btn btn-outline-dark" to={`/worksheets/${id}/${withKey ? 'try' : 'key'}`}>
            {withKey ? 'Try as student' : 'Answer key'}
          </Link>
          <Menu label="Save as" align="end">
            <WriteOutMenu worksheetId={id} edition={null} />
          </Menu>
          <Button variant="outline-dark" onClick={() => window.print()}>
            Print
          </Button>
        </span>
      </div>
      {(copy.error ?? back.error) && <Notice kind="bad">{sentenceOf(copy.error ?? back.error)}</Notice>}
      <div className="sheet-place">
        <SheetContext value={surroundings}>
          <Sheet
            content={draft}
            ink="deep blue"
            answer={(space, label) =>
              withKey ? <KeySpace space={space} label={label} /> : <EmptySpace space={space} />
            }
          />
        </SheetContext>
      </div>
    </main>
  )
}

function aboutWords({ archived, mayChange }: WorksheetOpened, withKey: boolean): string {
  if (withKey) return 'answer key'
  if (archived) return 'archived'
  return mayChange ? 'as it is printed' : 'shared with you to view'
}

/** An answer space with its key in it. */
function KeySpace({ space, label }: { readonly space: AnswerSpace; readonly label: string }): ReactNode {
  const words = keyWords(space)
  const drawn = drawnSpace(space)
  if (drawn.is === 'options')
    return <OptionList options={drawn.options} many={drawn.many} chosen={drawn.right} said="right" label={label} />
  if (!isAnswerSpace(space)) return <span className="answer answer-gap key-words">{words || '–'}</span>
  return (
    <div className="answer answer-passage key-words" role="group" aria-label={label} dir="auto">
      {words || <span className="soft">no key</span>}
    </div>
  )
}
