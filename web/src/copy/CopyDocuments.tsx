import { HANDED_IN_BYTES } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useId, useState } from 'react'
import Button from 'react-bootstrap/Button'
import Form from 'react-bootstrap/Form'
import type { Answers, Bodies } from '../contract'
import { Notice } from '../ui/Notice'
import { api, saveFile, sentenceOf } from '../ui/api'
import { exactTime, timeInWords } from '../ui/time'
import { type CopyPageData, documentsKey } from './queries'

const FORMATS = [
  ['docx', 'DOCX'],
  ['odt', 'OpenDocument (ODT)'],
  ['pdf', 'PDF'],
  ['html', 'web page'],
] as const

type Documents = Answers['POST copies/{copyId}/documents']

export interface CopyDocumentsProps {
  readonly data: CopyPageData
  /** Whether this person may put documents with it now. */
  readonly mayWrite: boolean
  /** Told when something about the documents did not come true. */
  readonly onFailed: () => void
}

/** The copy as a document, and documents with the whole of it: for who works in one of their own, and what fits no answer. */
export default function CopyDocuments({ data, mayWrite, onFailed }: CopyDocumentsProps) {
  const client = useQueryClient()
  const field = useId()
  const [taken, setTaken] = useState<Documents[number] | null>(null)
  const [isTooLarge, setTooLarge] = useState(false)
  const put = (alterList: (documents: CopyPageData['documents']) => CopyPageData['documents']) =>
    client.setQueryData<CopyPageData>(
      ['copy', data.id],
      (known) => known && { ...known, documents: alterList(known.documents) },
    )
  const mutationKey = documentsKey(data.id)
  // One after the other, and only what the last one tells is the whole of it; a copy is submitted after all of them.
  const inTurn = {
    mutationKey,
    scope: { id: mutationKey.join(' ') },
    onSuccess: (documents: Documents) => {
      if (client.isMutating({ mutationKey }) === 1) put(() => documents)
    },
    onError: () => {
      onFailed()
      return client.invalidateQueries({ queryKey: ['copy', data.id] })
    },
  }
  const add = useMutation({
    ...inTurn,
    mutationFn: async (file: File) =>
      api.post<Documents>(
        `copies/${data.id}/documents?name=${encodeURIComponent(file.name)}`,
        new Uint8Array(await file.arrayBuffer()),
      ),
  })
  const alter = useMutation({
    ...inTurn,
    mutationFn: ({ id, ...to }: { id: string } & Bodies['PUT copies/{copyId}/documents/{fileId}']) =>
      api.put<Documents>(`copies/${data.id}/documents/${id}`, to),
    // What was said counts at once, for what Submit asks as well; if it does not come true, it is as it was.
    onMutate: ({ id, isAnswer }) => {
      void client.cancelQueries({ queryKey: ['copy', data.id] })
      if (isAnswer !== undefined) put((all) => all.map((one) => (one.id === id ? { ...one, isAnswer } : one)))
    },
  })
  const save = useMutation({ mutationFn: (format: string) => saveFile(`copies/${data.id}/out/${format}`) })
  const { documents } = data
  const problem = add.error ?? alter.error ?? save.error
  return (
    <section className="copy-documents" aria-labelledby="documents-title">
      <h2 id="documents-title">Documents</h2>
      <p className="soft">
        Save this copy as{' '}
        {FORMATS.map(([format, words], at) => (
          <span key={format}>
            {at > 0 && ' · '}
            <Button size="sm" variant="link" disabled={save.isPending} onClick={() => save.mutate(format)}>
              {save.isPending && save.variables === format ? `${words} …` : words}
            </Button>
          </span>
        ))}
        {mayWrite &&
          !data.keptFrom &&
          ', to work in a document of your own: put it here when it is done, and say that it is your answer.'}
      </p>
      {documents.length > 0 && (
        <ul>
          {documents.map((one) => (
            <li key={one.id}>
              <a href={`/api/copies/${data.id}/files/${one.id}`} target="_blank" rel="noreferrer">
                <bdi>{one.name}</bdi>
              </a>{' '}
              <span className="soft" title={exactTime(one.at)}>
                {data.holders.length > 1 && one.by && <bdi>{one.by}, </bdi>}
                {timeInWords(one.at)}
              </span>
              {mayWrite && one.isOwn ? (
                <>
                  {!data.keptFrom && (
                    <Form.Check
                      inline
                      id={`answer-${one.id}`}
                      label="This is my answer"
                      checked={one.isAnswer}
                      onChange={({ target }) => alter.mutate({ id: one.id, isAnswer: target.checked })}
                    />
                  )}
                  <Button
                    size="sm"
                    variant="link"
                    disabled={alter.isPending}
                    aria-label={`Take ${one.name} out`}
                    onClick={() => {
                      setTaken(one)
                      alter.mutate({ id: one.id, isOut: true })
                    }}
                  >
                    Take it out
                  </Button>
                </>
              ) : (
                one.isAnswer && <span className="tag">the answer</span>
              )}
            </li>
          ))}
        </ul>
      )}
      {taken && mayWrite && !documents.some(({ id }) => id === taken.id) && (
        <p className="soft" role="status">
          <bdi>{taken.name}</bdi> is taken out.{' '}
          <Button
            size="sm"
            variant="link"
            onClick={() => {
              alter.mutate({ id: taken.id, isOut: false })
              setTaken(null)
            }}
          >
            Put it back
          </Button>
        </p>
      )}
      {mayWrite && (
        <label htmlFor={field} className="copy-documents-add">
          <span className="soft">Put a document here: any kind of file, up to {HANDED_IN_BYTES / 1_000_000} MB</span>
          <input
            id={field}
            type="file"
            className="form-control"
            disabled={add.isPending}
            onChange={({ target }) => {
              const [file] = target.files ?? []
              // Said here, before megabytes go over a slow line.
              setTooLarge(file !== undefined && file.size > HANDED_IN_BYTES)
              if (file && file.size <= HANDED_IN_BYTES) add.mutate(file)
              target.value = ''
            }}
          />
        </label>
      )}
      {add.isPending && (
        <p role="status" className="soft">
          On its way …
        </p>
      )}
      {isTooLarge && (
        <Notice kind="bad">A file has up to {HANDED_IN_BYTES / 1_000_000} MB: put a smaller one here.</Notice>
      )}
      {problem && <Notice kind="bad">{sentenceOf(problem)}</Notice>}
    </section>
  )
}
