import { SOURCE_LIMIT, guessLanguage } from '@gavrin/core'
import type { Editor } from '@tiptap/react'
import { useMemo } from 'react'
import { Button } from 'react-bootstrap'
import type { PageAbout } from './document'
import { ChoiceSetting, TextSetting, TickSetting } from './fields'
import { backdropIds, useFindBlanks } from './useFindBlanks'

interface Props {
  readonly editor: Editor
  readonly mediaUrl: (id: string) => string
  readonly about: PageAbout
  readonly setAbout: (about: PageAbout) => void
}

/** So much of the text tells its language. */
const GUESSED_FROM = 2_000

const LANGUAGES =
  'ar bg bn ca cs cy da de el en es et eu fa fi fr ga gl gu he hi hr hu hy id is it ja ka ko ku lt lv mi mk ms mt ne nl no pa pl ps pt ro ru sk sl so sq sr sv sw ta th ti tl tr uk ur vi zh'.split(
    ' ',
  )
const names = new Intl.DisplayNames('en', { type: 'language' })
const nameOf = (tag: string) => names.of(tag) ?? tag

/** By name; one that is set and not among them, too. */
const languages = (chosen: string | undefined): string[] =>
  [...new Set([...LANGUAGES, ...(chosen ? [chosen] : [])])].toSorted((a, b) => nameOf(a).localeCompare(nameOf(b)))

function withLanguage({ language: _, ...rest }: PageAbout, tag: string): PageAbout {
  return tag ? { ...rest, language: tag } : rest
}

/** What can be set about the page as a whole. */
export function PageSettings({ editor, mediaUrl, about, setAbout }: Props) {
  const blanks = useFindBlanks(editor, mediaUrl)
  const backdrops = backdropIds(editor).length
  const { page, source, language, spelling } = about
  // Of the document, not by the editor: while a page is being drawn it may have been ended, and another is on its way.
  const { doc } = editor.state
  const text = language ? '' : doc.textBetween(0, Math.min(doc.content.size, GUESSED_FROM), '\n')
  const guess = useMemo(() => guessLanguage(text), [text])
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
      <ChoiceSetting
        label="Language"
        value={language ?? ''}
        change={(tag) => setAbout(withLanguage(about, tag))}
        choices={[
          ['', guess ? `as the text reads: ${nameOf(guess)}` : 'as the text reads'],
          ...languages(language).map((tag) => [tag, nameOf(tag)] as const),
        ]}
        hint="For reading aloud, help with spelling, and print."
      />
      <TickSetting
        label="Browsers help with spelling in answers"
        value={spelling !== false}
        change={(on) => {
          const { spelling: _, ...rest } = about
          setAbout(on ? rest : { ...rest, spelling: false })
        }}
      />
    </section>
  )
}
