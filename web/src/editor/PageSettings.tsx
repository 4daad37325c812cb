import { SOURCE_LIMIT } from '@gavrin/core'
import type { Editor } from '@tiptap/react'
import { Button } from 'react-bootstrap'
import type { PageAbout } from './document'
import { ChoiceSetting, TextSetting } from './fields'
import { backdropIds, useFindBlanks } from './useFindBlanks'

interface Props {
  readonly editor: Editor
  readonly mediaUrl: (id: string) => string
  readonly about: PageAbout
  readonly setAbout: (about: PageAbout) => void
}

/** What can be set about the page as a whole. */
export function PageSettings({ editor, mediaUrl, about, setAbout }: Props) {
  const blanks = useFindBlanks(editor, mediaUrl)
  const backdrops = backdropIds(editor).length
  const { page, source } = about
  const isOther = typeof page !== 'string'
  return (
    <section aria-label="The page">
      <h2>The page</h2>
      <p className="soft">Type the print as it should stand. Put answer spaces between it; select one to set it up.</p>
      {backdrops > 0 && (
        <>
          <div className="setting-acts">
            <Button size="sm" variant="outline-dark" disabled={blanks.isLooking} onClick={() => void blanks.find()}>
              {blanks.isLooking
                ? 'looking …'
                : `Find the blanks on ${backdrops === 1 ? 'the backdrop' : 'all backdrops'}`}
            </Button>
          </div>
          {blanks.said && <p className="soft">{blanks.said}</p>}
        </>
      )}
      <ChoiceSetting
        label="Size"
        value={isOther ? 'other' : page}
        change={(size: 'A4' | 'Letter' | 'other') => size !== 'other' && setAbout({ ...about, page: size })}
        choices={[
          ['A4', 'A4'],
          ['Letter', 'Letter'],
          ...(isOther
            ? ([['other', `as brought in, ${Math.round(page.width)} × ${Math.round(page.height)} mm`]] as const)
            : []),
        ]}
      />
      <TextSetting
        label="Source line, in small print"
        rows={2}
        limit={SOURCE_LIMIT}
        value={source}
        change={(text) => setAbout({ ...about, source: text })}
        hint="Where it came from. It stays on every copy and every print."
      />
    </section>
  )
}
