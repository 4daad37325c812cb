import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type DragEvent, useEffect, useRef, useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link, useNavigate } from 'react-router'
import { Loaded } from '../../ui/Loaded'
import { Notice } from '../../ui/Notice'
import { api, sentenceOf } from '../../ui/api'
import { timeInWords } from '../../ui/time'
import './bringIn.css'
import { type Uploaded, useUnfinished } from './queries'

const KINDS = 'DOCX, ODT, PDF, Markdown, HTML, text, PNG, JPEG, WebP, or an archive that Gavrin wrote'

/** Brings a file in: chosen, dropped, pasted, or photographed. */
export function BringInPage() {
  const navigate = useNavigate()
  const client = useQueryClient()
  const chooser = useRef<HTMLInputElement>(null)
  const camera = useRef<HTMLInputElement>(null)
  const [over, setOver] = useState(false)
  const [twice, setTwice] = useState<Uploaded | null>(null)
  const unfinished = useUnfinished()
  useEffect(() => {
    document.title = 'Bring in – Gavrin'
  }, [])
  const upload = useMutation({
    mutationFn: async (file: File) =>
      api.post<Uploaded>(
        `bring-in?name=${encodeURIComponent(file.name || 'pasted')}`,
        new Uint8Array(await file.arrayBuffer()),
      ),
    onSuccess: (uploaded) => {
      void client.invalidateQueries({ queryKey: ['bring-in'] })
      if (uploaded.before.length > 0) setTwice(uploaded)
      else void navigate(`/worksheets/bring-in/${uploaded.id}`)
    },
  })
  const take = (files: FileList | null | undefined) => {
    const file = files?.[0]
    if (file) upload.mutate(file)
  }
  const discard = useMutation({
    mutationFn: (id: string) => api.delete(`bring-in/${id}`),
    onSettled: () => client.invalidateQueries({ queryKey: ['bring-in'] }),
  })
  useEffect(() => {
    const pasted = (event: ClipboardEvent) => {
      const { clipboardData } = event
      if (clipboardData?.files.length) return take(clipboardData.files)
      const html = clipboardData?.getData('text/html')
      const text = clipboardData?.getData('text/plain')
      if (html) upload.mutate(new File([html], 'pasted.html'))
      else if (text && text.length > 40) upload.mutate(new File([text], 'pasted.txt'))
    }
    window.addEventListener('paste', pasted)
    return () => window.removeEventListener('paste', pasted)
  })
  const drop = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    take(event.dataTransfer.files)
  }
  return (
    <main className="page">
      <div className="page-head">
        <h1>Bring in</h1>
        <span className="soft">what you have becomes a worksheet: its print is fixed, its blanks are live</span>
        <span className="page-acts">
          <Link className="btn btn-outline-dark" to="/worksheets">
            Back to the worksheets
          </Link>
        </span>
      </div>
      <div
        className={over ? 'drop-place over' : 'drop-place'}
        onDragOver={(event) => {
          event.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
      >
        <p>Drop a file here, paste it, or</p>
        <p className="drop-acts">
          <Button onClick={() => chooser.current?.click()} disabled={upload.isPending}>
            Choose a file
          </Button>
          <Button variant="outline-dark" onClick={() => camera.current?.click()} disabled={upload.isPending}>
            Photograph a page
          </Button>
        </p>
        <p className="soft">{KINDS}; up to 30 MB. Macros and scripts are never run.</p>
        <input
          ref={chooser}
          type="file"
          hidden
          aria-label="File to bring in"
          onChange={({ target }) => {
            take(target.files)
            target.value = ''
          }}
        />
        <input
          ref={camera}
          type="file"
          hidden
          accept="image/*"
          capture="environment"
          aria-label="Photograph of a page"
          onChange={({ target }) => {
            take(target.files)
            target.value = ''
          }}
        />
        <span role="status">{upload.isPending && 'bringing it in …'}</span>
      </div>
      {upload.error && <Notice kind="bad">{sentenceOf(upload.error)}</Notice>}
      {twice && (
        <Notice kind="look">
          You brought in the same file before:{' '}
          {twice.before.map(({ worksheetId, title, at }, index) => (
            <span key={worksheetId}>
              {index > 0 && ', '}
              <Link to={`/worksheets/${worksheetId}`}>{title}</Link> ({timeInWords(at)})
            </span>
          ))}
          .{' '}
          <Button variant="link" onClick={() => void navigate(`/worksheets/bring-in/${twice.id}`)}>
            Bring it in once more
          </Button>{' '}
          <Button
            variant="link"
            onClick={() => {
              discard.mutate(twice.id)
              setTwice(null)
            }}
          >
            Leave it
          </Button>
        </Notice>
      )}
      <Loaded query={unfinished}>
        {(list) =>
          list.length > 0 && (
            <section>
              <h2>Not finished</h2>
              <p className="soft">Nothing of these is in the library yet. They stay here for thirty days.</p>
              <table className="grid">
                <tbody>
                  {list.map(({ id, name, at }) => (
                    <tr key={id}>
                      <td>
                        <Link className="row-link" to={`/worksheets/bring-in/${id}`}>
                          <bdi>{name}</bdi>
                        </Link>
                      </td>
                      <td>{timeInWords(at)}</td>
                      <td className="n">
                        <Button
                          size="sm"
                          variant="link"
                          onClick={() => discard.mutate(id)}
                          aria-label={`Discard ${name}`}
                        >
                          Discard
                        </Button>
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </section>
          )
        }
      </Loaded>
    </main>
  )
}
