import { useMutation } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { TextField } from '../ui/TextField'
import { api, sentenceOf } from '../ui/api'
import { problemAt, problemBeside } from '../ui/problems'
import type { Folder } from './queries'
import { folderTree } from './useLibrary'
import type { Bodies } from '../contract'

/** A folder to be changed, or one to be made in another (null: in none). */
export type FolderEdit = { readonly folder: Folder } | { readonly parentId: string | null }

interface Props {
  readonly edit: FolderEdit
  readonly folders: readonly Folder[]
  readonly close: () => void
  readonly renew: () => Promise<unknown>
}

/** Makes, renames, moves or takes away a folder. */
export function FolderDialog({ edit, folders, close, renew }: Props) {
  const known = 'folder' in edit ? edit.folder : null
  const [name, setName] = useState(known?.name ?? '')
  const [parentId, setParentId] = useState(known ? known.parentId : 'parentId' in edit ? edit.parentId : null)
  const done = async () => {
    await renew()
    close()
  }
  const keep = useMutation({
    mutationFn: () =>
      known
        ? api.put(`folders/${known.id}`, { name, parentId } satisfies Bodies['PUT folders/{folderId}'])
        : api.post('folders', { name, parentId } satisfies Bodies['POST folders']),
    onSuccess: done,
  })
  const remove = useMutation({ mutationFn: () => api.delete(`folders/${known!.id}`), onSuccess: done })
  const submit = (event: FormEvent) => {
    event.preventDefault()
    keep.mutate()
  }
  return (
    <Modal show onHide={close} aria-labelledby="folder-title">
      <Form onSubmit={submit} noValidate>
        <Modal.Header closeButton>
          <Modal.Title id="folder-title">{known ? 'Change this folder' : 'New folder'}</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <TextField
            id="folder-name"
            label="Name"
            autoFocus
            value={name}
            change={setName}
            problem={problemAt(keep.error, 'name')}
          />
          <Form.Group controlId="folder-parent">
            <Form.Label>Lies in</Form.Label>
            <Form.Select value={parentId ?? ''} onChange={({ target }) => setParentId(target.value || null)}>
              <option value="">no other folder</option>
              {folderTree(folders)
                .filter(({ folder }) => folder.id !== known?.id)
                .map(({ folder, depth }) => (
                  <option key={folder.id} value={folder.id}>
                    {' '.repeat(depth)}
                    {folder.name}
                  </option>
                ))}
            </Form.Select>
          </Form.Group>
          {problemAt(keep.error, 'parentId') && <p className="bad">{problemAt(keep.error, 'parentId')}</p>}
          {keep.error && problemBeside(keep.error, ['name', 'parentId']) && (
            <p className="bad">{problemBeside(keep.error, ['name', 'parentId'])}</p>
          )}
          {remove.error && <p className="bad">{sentenceOf(remove.error)}</p>}
        </Modal.Body>
        <Modal.Footer>
          {known && (
            <Button
              variant="outline-dark"
              className="me-auto"
              onClick={() => remove.mutate()}
              disabled={remove.isPending}
            >
              Take the folder away; keep what is in it
            </Button>
          )}
          <Button type="submit" disabled={keep.isPending}>
            {known ? 'Keep' : 'Make the folder'}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
