import type { AnswerSpace } from '@gavrin/core'
import type { Editor } from '@tiptap/react'
import { Button } from 'react-bootstrap'
import { newSpace } from './document'
import { ChoiceSetting, TextSetting } from './fields'
import { formulaProblemAt } from './formulaMarks'
import { type Part, numberAt } from './parts'
import { Proposed } from './Proposed'
import { SpaceSettings } from './SpaceSettings'
import type { TableChange } from './tables'

const TABLE_ACTS: readonly (readonly [TableChange, string])[] = [
  ['row after', 'Row below'],
  ['column after', 'Column after'],
  ['no row', 'Remove row'],
  ['no column', 'Remove column'],
  ['one cell', 'Join selected cells'],
  ['many cells', 'Split joined cell'],
  ['row of heads', 'Row as headings'],
  ['no table', 'Remove table'],
]

interface Props {
  readonly editor: Editor
  readonly cell: Part
  readonly change: (attrs: Record<string, unknown>) => void
}

/** What can be done with the table the caret is in, and set about its cell. */
export function CellSettings({ editor, cell, change }: Props) {
  const space = cell.node.attrs['space'] as Extract<AnswerSpace, { kind: 'cell' }> | null
  const formula = cell.node.attrs['formula'] as string | null
  const is = space ? 'space' : formula !== null ? 'formula' : 'print'
  return (
    <section aria-label="Table">
      <h2>Table</h2>
      <div className="setting-acts">
        {TABLE_ACTS.map(([how, words]) => (
          <Button
            key={how}
            size="sm"
            variant="outline-dark"
            onClick={() => editor.chain().focus().changeTable(how).run()}
          >
            {words}
          </Button>
        ))}
      </div>
      <ChoiceSetting
        label="This cell is"
        value={is}
        change={(next: typeof is) => {
          if (next === 'space') editor.commands.setCells((id) => ({ ...newSpace('cell'), id }))
          else change({ space: null, formula: next === 'formula' ? 'sum(B2:B3)' : null })
        }}
        choices={[
          ['print', 'print'],
          ['space', 'a place to answer'],
          ['formula', 'worked out from others'],
        ]}
      />
      {is === 'formula' && (
        <TextSetting
          label="Worked out as"
          limit={200}
          value={formula ?? ''}
          problem={formulaProblemAt(editor.state, cell.at)}
          change={(text) => change({ formula: text.replace(/^\s*=/, '') })}
          hint="sum(B2:B5), mean(B2:C2), round(B6 / 3, 1). Columns are A, B, C; rows 1, 2, 3."
        />
      )}
      {space && (
        <SpaceSettings
          key={space.id}
          space={space}
          number={numberAt(editor.state.doc, space.id)}
          change={(changed) => change({ space: changed })}
        >
          <Proposed editor={editor} space={space} at={cell.at} />
        </SpaceSettings>
      )}
    </section>
  )
}
