import { useId, useMemo, useState } from 'react'
import { Form } from 'react-bootstrap'
import { sentenceOf } from '../../ui/api'
import { type Source, readSource, rowsOf } from './source'

/** A table as it was pasted, or chosen as a file. */
export interface TableTyped {
  readonly source: Source
  /** The file could not be read. */
  readonly problem: string | null
}

export const NO_TABLE: TableTyped = { source: { kind: 'pasted', text: '' }, problem: null }

/** The rows of a table; null: there is none yet, or it cannot be read, and why. */
export function useTableRows({ source, problem }: TableTyped): {
  readonly rows: readonly (readonly string[])[] | null
  readonly trouble: string | null
} {
  return useMemo(() => {
    if (problem) return { rows: null, trouble: problem }
    if (source.kind === 'bundle') return { rows: null, trouble: 'This is a file with whole classes, and no table.' }
    const found = rowsOf(source)
    return { rows: found && !found.problem ? found.rows : null, trouble: found?.problem ?? null }
  }, [source, problem])
}

/** Where a table is pasted, or chosen as a file. */
export function TableField({
  typed,
  change,
}: {
  readonly typed: TableTyped
  readonly change: (typed: TableTyped) => void
}) {
  const id = useId()
  const [busy, setBusy] = useState(false)
  const choose = async (file: File | undefined) => {
    if (!file) return
    setBusy(true)
    try {
      change({ source: await readSource(file), problem: null })
    } catch (error) {
      change({ source: typed.source, problem: sentenceOf(error) })
    } finally {
      setBusy(false)
    }
  }
  return (
    <>
      <Form.Control
        as="textarea"
        rows={5}
        aria-label="The table, pasted"
        placeholder="Copy the cells in your spreadsheet and paste them here"
        value={typed.source.kind === 'pasted' ? typed.source.text : ''}
        onChange={({ target }) => change({ source: { kind: 'pasted', text: target.value }, problem: null })}
      />
      <Form.Group controlId={`${id}-file`} className="mt-2">
        <Form.Label className="soft">{busy ? 'Reading …' : 'or a file: CSV, XLSX, ODS'}</Form.Label>
        <Form.Control
          type="file"
          size="sm"
          accept=".csv,.tsv,.txt,.xlsx,.ods"
          onChange={({ target }) => void choose((target as HTMLInputElement).files?.[0])}
        />
      </Form.Group>
    </>
  )
}
