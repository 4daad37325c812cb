import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useParams } from 'react-router'
import { Loaded } from '../ui/Loaded'
import { type GroupSet, groupsKey, useClasses } from '../class/queries'
import { api } from '../ui/api'
import './library.css'
import { type WorksheetOpened, useWorksheet } from './queries'

const WIDTHS = [
  ['phone', 375],
  ['tablet', 768],
  ['laptop', 1180],
] as const

/** A worksheet to fill in as a student would, on a phone, a tablet or a laptop. Nothing of it is kept. */
export function TryPage() {
  const { worksheetId = '' } = useParams()
  const query = useWorksheet(worksheetId)
  return <Loaded query={query}>{(worksheet) => <Try worksheet={worksheet} />}</Loaded>
}

function Try({ worksheet }: { worksheet: WorksheetOpened }) {
  const [width, setWidth] = useState<number>(WIDTHS[2][1])
  const [audience, setAudience] = useState<string>('')
  const [again, setAgain] = useState(0)
  const hasSections = worksheet.draft.blocks.some(({ kind }) => kind === 'section')
  useEffect(() => {
    document.title = `Try: ${worksheet.title} – Gavrin`
  }, [worksheet.title])
  return (
    <main className="read-page">
      <div className="read-head">
        <Link to={`/worksheets/${worksheet.id}`} className="back" aria-label="Back to the editor">
          ←
        </Link>
        <h1>
          <bdi>{worksheet.title}</bdi>
        </h1>
        <span className="soft">as a student sees it; nothing you write here is kept</span>
        <span className="page-acts">
          {hasSections && <AudienceChoice value={audience} change={setAudience} />}
          <span className="widths" role="group" aria-label="Width">
            {WIDTHS.map(([words, pixels]) => (
              <button key={words} type="button" aria-pressed={width === pixels} onClick={() => setWidth(pixels)}>
                {words}
              </button>
            ))}
          </span>
          <Button variant="outline-dark" onClick={() => setAgain(again + 1)}>
            Begin again
          </Button>
        </span>
      </div>
      <div className="try-place">
        <iframe
          key={`${again}-${audience}`}
          className="try-frame"
          title={`${worksheet.title}, as a student sees it`}
          width={width}
          src={`/try/${worksheet.id}${audience && `?for=${encodeURIComponent(audience)}`}`}
        />
      </div>
    </main>
  )
}

/** Real people to lay the sections open for: a class, or a group of it. */
function AudienceChoice({ value, change }: { value: string; change: (value: string) => void }) {
  const classes = useClasses()
  const [classId] = value.split(' ')
  const sets = useQuery({
    queryKey: groupsKey(classId ?? ''),
    queryFn: () => api.get<GroupSet[]>(`classes/${classId}/group-sets`),
    enabled: !!classId,
  })
  return (
    <>
      <Form.Select
        size="sm"
        aria-label="With which class"
        value={classId}
        onChange={({ target }) => change(target.value)}
      >
        <option value="">with nobody’s names</option>
        {classes.data?.map(({ id, name }) => (
          <option key={id} value={id}>
            with {name}
          </option>
        ))}
      </Form.Select>
      {classId && !!sets.data?.length && (
        <Form.Select
          size="sm"
          aria-label="With which groups"
          value={value.split(' ')[1] ?? ''}
          onChange={({ target }) => change(target.value ? `${classId} ${target.value}` : classId)}
        >
          <option value="">one student</option>
          {sets.data.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Form.Select>
      )}
    </>
  )
}
