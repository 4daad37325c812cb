import { type DragEvent, useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Notice } from '../../ui/Notice'
import { sentenceOf } from '../../ui/api'
import { type Source, readSource } from './source'

interface Props {
  readonly source: Source
  readonly bring: (source: Source) => void
}

/** Takes a list in: pasted, chosen as a file, or dropped. */
export function SourceChooser({ source, bring }: Props) {
  const field = useRef<HTMLInputElement>(null)
  const [reading, setReading] = useState<string | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [over, setOver] = useState(false)
  const take = async (file: File | undefined) => {
    if (!file) return
    setReading(file.name)
    setProblem(null)
    try {
      bring(await readSource(file))
    } catch (error) {
      setProblem(sentenceOf(error))
    } finally {
      setReading(null)
    }
  }
  const dropped = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    void take(event.dataTransfer.files[0])
  }
  const dropping = {
    onDragOver: (event: DragEvent) => {
      event.preventDefault()
      setOver(true)
    },
    onDragLeave: () => setOver(false),
    onDrop: dropped,
  }
  const choose = (
    <>
      <input
        ref={field}
        type="file"
        className="visually-hidden"
        aria-label="Choose a file"
        tabIndex={-1}
        accept=".csv,.tsv,.txt,.xlsx,.ods,.zip"
        onChange={({ target }) => {
          void take(target.files?.[0])
          target.value = ''
        }}
      />
      <Button size="sm" variant="outline-dark" disabled={!!reading} onClick={() => field.current?.click()}>
        {reading ? `Reading ${reading} …` : source.kind === 'pasted' ? 'Choose a file' : 'Choose another file'}
      </Button>
    </>
  )
  return (
    <>
      {source.kind === 'pasted' ? (
        <div className={over ? 'source-drop over' : 'source-drop'} {...dropping}>
          <Form.Label htmlFor="pasted">Paste the rows from your spreadsheet</Form.Label>
          <textarea
            id="pasted"
            className="form-control paste-field"
            spellCheck={false}
            autoFocus
            dir="auto"
            value={source.text}
            placeholder={'Last name\tFirst name\tE-mail\nAbara\tChidi\tchidi@fennickquay.example'}
            onChange={({ target }) => bring({ kind: 'pasted', text: target.value })}
          />
          <p className="source-or">
            {choose}
            <span className="soft">or drop one here: CSV, TSV, XLSX, ODS, or a rostering bundle (zip)</span>
          </p>
        </div>
      ) : (
        <div className={over ? 'source-drop source-file over' : 'source-drop source-file'} {...dropping}>
          <strong>{source.name}</strong>
          <p className="source-or">
            {choose}
            <Button size="sm" variant="link" onClick={() => bring({ kind: 'pasted', text: '' })}>
              Paste rows instead
            </Button>
          </p>
        </div>
      )}
      {problem && <Notice kind="bad">{problem}</Notice>}
      {source.kind === 'workbook' &&
        source.notes.map((note) => (
          <Notice key={note} kind="plain">
            {note}
          </Notice>
        ))}
    </>
  )
}
