import { useState } from 'react'
import { Dropdown } from 'react-bootstrap'
import type { Bodies } from '../contract'
import { Menu } from '../ui/Menu'
import { saveFile, sentenceOf } from '../ui/api'

const FORMATS = [
  ['csv', 'CSV', 'text, for any program'],
  ['xlsx', 'XLSX', 'workbook'],
  ['ods', 'ODS', 'workbook, open format'],
] as const

interface Props {
  readonly handoutId: string
  /** Only these; left out: all. */
  readonly copyIds?: readonly string[]
  /** The answer grid of this worksheet; left out: the board. */
  readonly worksheetId?: string
  readonly drop?: 'up' | 'down'
}

/** Saves a board, or its answer grid, as a file. */
export function SaveBoardMenu({ handoutId, copyIds, worksheetId, drop }: Props) {
  const [problem, setProblem] = useState<string | null>(null)
  const save = async (format: string) => {
    setProblem(null)
    try {
      await saveFile(`handouts/${handoutId}/board/out/${format}`, {
        ...(copyIds && { copyIds: [...copyIds] }),
        ...(worksheetId && { worksheetId }),
      } satisfies Bodies['POST handouts/{handoutId}/board/out/{format}'])
    } catch (error) {
      setProblem(sentenceOf(error))
    }
  }
  return (
    <>
      <Menu label="Save as" small align="end" {...(drop && { drop })}>
        {FORMATS.map(([format, name, about]) => (
          <Dropdown.Item key={format} as="button" type="button" onClick={() => void save(format)}>
            {name} <span className="soft">{about}</span>
          </Dropdown.Item>
        ))}
      </Menu>
      {problem && (
        <span className="bad" role="alert">
          {problem}
        </span>
      )}
    </>
  )
}
