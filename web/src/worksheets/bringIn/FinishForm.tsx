import { type WorksheetContent, SOURCE_LIMIT, answerSpaces, proposedCount } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, type ReactNode, useMemo, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useNavigate } from 'react-router'
import { Sheet } from '../../sheet/Sheet'
import { SheetContext, type SheetSurroundings } from '../../sheet/surroundings'
import { Notice } from '../../ui/Notice'
import { TextField } from '../../ui/TextField'
import { api, sentenceOf } from '../../ui/api'
import { EmptySpace } from '../../sheet/place'
import { useFolders } from '../queries'
import { folderTree } from '../useLibrary'
import type { Upload } from './queries'
import type { Answers, Bodies } from '../../contract'

interface Props {
  readonly upload: Upload
  readonly title: string
  readonly content: WorksheetContent
  /** What could not be carried over. */
  readonly notes: readonly string[]
  /** What else is decided before it is put in the library. */
  readonly children?: ReactNode
}

const withoutEnding = (name: string) =>
  name
    .replace(/\.[a-z0-9]{1,5}$/i, '')
    .replace(/[_-]+/g, ' ')
    .trim()

/** What the file has become, and what is asked before it is put in the library: its title, where it came from, its folder. */
export function FinishForm({ upload, title: found, content, notes, children }: Props) {
  const navigate = useNavigate()
  const client = useQueryClient()
  const folders = useFolders()
  const [title, setTitle] = useState(found || withoutEnding(upload.name) || 'Untitled worksheet')
  const [source, setSource] = useState(content.source)
  const [folderId, setFolderId] = useState('')
  const finish = useMutation({
    mutationFn: () =>
      api.post<Answers['POST bring-in/{bringInId}/finish']>(`bring-in/${upload.id}/finish`, {
        title,
        content: { ...content, source },
        folderId: folderId || null,
      } satisfies Bodies['POST bring-in/{bringInId}/finish']),
    onSuccess: async ({ worksheetId }) => {
      await client.invalidateQueries({ queryKey: ['worksheets'] })
      void navigate(`/worksheets/${worksheetId}`)
    },
  })
  const surroundings = useMemo(
    (): SheetSurroundings => ({
      mediaUrl: (id) => `/api/bring-in/${upload.id}/media/${id}`,
      docOf: null,
      seed: '',
      files: null,
      hintOf: null,
      language: '',
      spelling: true,
    }),
    [upload.id],
  )
  const spaces = answerSpaces(content).length
  const proposed = proposedCount(content)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    finish.mutate()
  }
  return (
    <div className="review-columns">
      <Form onSubmit={submit} noValidate className="review-form">
        <TextField
          id="brought-title"
          label="Title"
          value={title}
          change={setTitle}
          problem={title.trim() ? null : 'Give the worksheet a title.'}
        />
        <Form.Group controlId="brought-source" className="mb-3">
          <Form.Label>Where does it come from?</Form.Label>
          <Form.Control
            as="textarea"
            rows={2}
            dir="auto"
            maxLength={SOURCE_LIMIT}
            value={source}
            onChange={({ target }) => setSource(target.value)}
          />
          <Form.Text>Stands in small print on every copy. Empty, if it is your own.</Form.Text>
        </Form.Group>
        <Form.Group controlId="brought-folder" className="mb-3">
          <Form.Label>Folder</Form.Label>
          <Form.Select value={folderId} onChange={({ target }) => setFolderId(target.value)}>
            <option value="">none</option>
            {folderTree(folders.data ?? []).map(({ folder, depth }) => (
              <option key={folder.id} value={folder.id}>
                {' '.repeat(depth)}
                {folder.name}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        {children}
        {proposed > 0 && (
          <p className="proposed-words">
            {proposed === 1 ? 'One blank was' : `${proposed} blanks were`} found and {proposed === 1 ? 'is' : 'are'}{' '}
            proposed as {proposed === 1 ? 'an answer space' : 'answer spaces'}. In the editor you say of each whether it
            is one.
          </p>
        )}
        {notes.length > 0 && (
          <Notice kind="look">
            <b>Not carried over as it was</b>
            <ul className="notes">
              {notes.map((note) => (
                <li key={note}>{note}</li>
              ))}
            </ul>
          </Notice>
        )}
        {finish.error && <Notice kind="bad">{sentenceOf(finish.error)}</Notice>}
        <Button type="submit" disabled={finish.isPending || !title.trim() || content.blocks.length === 0}>
          {finish.isPending ? 'Putting it in the library …' : 'Put in the library'}
        </Button>
        <p className="soft">
          {content.blocks.length} {content.blocks.length === 1 ? 'block' : 'blocks'}, {spaces} answer{' '}
          {spaces === 1 ? 'space' : 'spaces'}
        </p>
      </Form>
      <div className="review-sheet">
        <SheetContext value={surroundings}>
          <Sheet
            content={{ ...content, source }}
            ink="deep blue"
            answer={(space) => (
              <span className={space.proposed ? 'is-proposed' : undefined}>
                <EmptySpace space={space} />
              </span>
            )}
          />
        </SheetContext>
      </div>
    </div>
  )
}
