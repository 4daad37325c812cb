import { NAME_TOKENS, type NamePattern, type NameToken, type PatternPart, literal, token } from '@gavrin/core'
import { type JSONContent, Node } from '@tiptap/core'
import { EditorContent, useEditor } from '@tiptap/react'
import StarterKit from '@tiptap/starter-kit'
import { Dropdown } from 'react-bootstrap'
import '../ui/editable.css'

/** A token in a name: one piece with its word on it. There is no code to type for it. */
const TokenNode = Node.create({
  name: 'nameToken',
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addAttributes() {
    return {
      token: {
        default: null,
        parseHTML: (element) => element.getAttribute('data-token'),
        renderHTML: ({ token: name }) => ({ 'data-token': String(name) }),
      },
    }
  },
  parseHTML() {
    return [{ tag: 'span[data-token]' }]
  },
  renderHTML({ node, HTMLAttributes }) {
    return ['span', { ...HTMLAttributes, class: 'token' }, NAME_TOKENS[node.attrs['token'] as NameToken] ?? '']
  },
  renderText({ node }) {
    return NAME_TOKENS[node.attrs['token'] as NameToken] ?? ''
  },
})

function toEditor(pattern: NamePattern): JSONContent {
  const content = pattern
    .filter((part) => part.kind === 'token' || part.text !== '')
    .map((part): JSONContent =>
      part.kind === 'token' ? { type: 'nameToken', attrs: { token: part.token } } : { type: 'text', text: part.text },
    )
  return { type: 'doc', content: [{ type: 'paragraph', content }] }
}

function fromEditor(document: JSONContent): NamePattern {
  return (document.content ?? [])
    .flatMap((paragraph) => paragraph.content ?? [])
    .flatMap((node): PatternPart[] => {
      if (node.type === 'nameToken' && typeof node.attrs?.['token'] === 'string' && node.attrs['token'] in NAME_TOKENS)
        return [token(node.attrs['token'] as NameToken)]
      return node.text ? [literal(node.text.slice(0, 100))] : []
    })
}

interface Props {
  readonly pattern: NamePattern
  readonly change: (pattern: NamePattern) => void
}

/** The name of the copies: text to type, and tokens put in from a menu. */
export function PatternField({ pattern, change }: Props) {
  const editor = useEditor({
    injectCSS: false,
    extensions: [
      StarterKit.configure({
        heading: false,
        bulletList: false,
        orderedList: false,
        listItem: false,
        listKeymap: false,
        blockquote: false,
        codeBlock: false,
        code: false,
        bold: false,
        italic: false,
        underline: false,
        strike: false,
        link: false,
        horizontalRule: false,
        hardBreak: false,
        trailingNode: false,
      }),
      TokenNode,
    ],
    content: toEditor(pattern),
    editorProps: {
      attributes: { class: 'pattern-field', role: 'textbox', 'aria-label': 'Name of the copies' },
      // One line: Enter leaves it as it is.
      handleKeyDown: (_view, event) => event.key === 'Enter',
      transformPastedText: (text) => text.replace(/\s+/g, ' '),
    },
    onUpdate: ({ editor: changed }) => change(fromEditor(changed.getJSON())),
  })
  return (
    <span className="pattern">
      <EditorContent editor={editor} />
      <Dropdown className="add-token">
        <Dropdown.Toggle variant="link" size="sm" id="add-token">
          Put in
        </Dropdown.Toggle>
        <Dropdown.Menu popperConfig={{ strategy: 'fixed' }}>
          {Object.entries(NAME_TOKENS).map(([name, word]) => (
            <Dropdown.Item
              key={name}
              as="button"
              type="button"
              onClick={() =>
                editor
                  ?.chain()
                  .focus()
                  .insertContent({ type: 'nameToken', attrs: { token: name } })
                  .run()
              }
            >
              <span className="token">{word}</span>
            </Dropdown.Item>
          ))}
        </Dropdown.Menu>
      </Dropdown>
    </span>
  )
}
