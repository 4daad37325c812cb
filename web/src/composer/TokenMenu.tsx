import { type PatternPart, wordOf } from '@gavrin/core'
import type { Editor } from '@tiptap/core'
import { Dropdown } from 'react-bootstrap'
import { OVER_PAGE } from '../ui/overPage'
import { offeredTokens, tokenAttrs } from './nameToken'

interface Props {
  readonly editor: Editor | null
  readonly columns: readonly string[]
  readonly id: string
}

/** Puts a token into a name or a note. */
export function TokenMenu({ editor, columns, id }: Props) {
  const put = (part: PatternPart) =>
    editor
      ?.chain()
      .focus()
      .insertContent({ type: 'nameToken', attrs: tokenAttrs(part) })
      .run()
  return (
    <Dropdown className="add-token">
      <Dropdown.Toggle variant="link" size="sm" id={id}>
        Insert a name part
      </Dropdown.Toggle>
      <Dropdown.Menu popperConfig={OVER_PAGE}>
        {offeredTokens(columns).map((part) => (
          <Dropdown.Item key={`${part.kind} ${wordOf(part)}`} as="button" type="button" onClick={() => put(part)}>
            <span className="token">{wordOf(part)}</span>
            {part.kind === 'column' && <span className="soft"> column of the roster</span>}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  )
}
