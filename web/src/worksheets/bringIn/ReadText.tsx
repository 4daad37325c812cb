import type { PhotoPage, ReadBlock } from '@gavrin/core'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'

interface Props {
  readonly page: PhotoPage
  /** @param deed what is done by and by and is taken back at once */
  readonly change: (part: Partial<PhotoPage>, deed?: string) => void
  readonly mediaUrl: (id: string) => string
}

/** What was read, beside the picture: doubtful words are marked, every paragraph can be put right or left out. */
export function ReadText({ page, change, mediaUrl }: Props) {
  const [editing, setEditing] = useState<string | null>(null)
  const blocks = page.blocks ?? []
  const doubtful = blocks.reduce((sum, { words }) => sum + words.filter((word) => word.doubtful).length, 0)
  const put = (key: string, part: Partial<ReadBlock>, deed?: string) =>
    change({ blocks: blocks.map((block) => (block.key === key ? { ...block, ...part } : block)) }, deed)
  return (
    <div className="read-text" aria-label="The text that was read" role="group">
      <p className="soft">
        {doubtful === 0
          ? 'No word is doubtful.'
          : `${doubtful} doubtful ${doubtful === 1 ? 'word is' : 'words are'} marked.`}{' '}
        {page.places.length > 0 &&
          `${page.places.length} ${page.places.length === 1 ? 'place to write was' : 'places to write were'} found.`}
      </p>
      {blocks.length === 0 && <p>No text was found on this page.</p>}
      {blocks.map((block) => (
        <div key={block.key} className={block.is === 'heading' ? 'read-block read-heading' : 'read-block'}>
          {editing === block.key ? (
            <Form.Control
              as="textarea"
              autoFocus
              rows={Math.max(2, Math.ceil(block.text.length / 55))}
              aria-label="Text of this paragraph"
              value={block.text}
              onChange={({ target }) => put(block.key, { text: target.value, words: [] }, `text of ${block.key}`)}
              onBlur={() => setEditing(null)}
            />
          ) : (
            <button type="button" className="read-words" onClick={() => setEditing(block.key)} title="Put it right">
              {block.words.length > 0
                ? block.words.map(({ text, doubtful: isDoubtful }, at) => (
                    <span key={at}>
                      {at > 0 && ' '}
                      {isDoubtful ? <mark title="doubtful">{text}</mark> : text}
                    </span>
                  ))
                : block.text || '(empty)'}
            </button>
          )}
          <span className="read-acts">
            <Button
              size="sm"
              variant="link"
              onClick={() => put(block.key, { is: block.is === 'heading' ? 'paragraph' : 'heading' })}
            >
              {block.is === 'heading' ? 'Make it text' : 'Make it a heading'}
            </Button>
            <Button
              size="sm"
              variant="link"
              aria-label={`Leave out: ${block.text.slice(0, 40)}`}
              onClick={() => change({ blocks: blocks.filter(({ key }) => key !== block.key) })}
            >
              Leave out
            </Button>
          </span>
        </div>
      ))}
      {page.figures.map(({ medium }) => (
        <div key={medium.id} className="read-block">
          <img src={mediaUrl(medium.id)} alt="A figure cut out of the page" />
          <span className="read-acts">
            <Button
              size="sm"
              variant="link"
              onClick={() => change({ figures: page.figures.filter((figure) => figure.medium.id !== medium.id) })}
            >
              Leave out
            </Button>
          </span>
        </div>
      ))}
    </div>
  )
}
