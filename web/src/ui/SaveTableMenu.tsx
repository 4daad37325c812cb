import { useState } from 'react'
import { Dropdown } from 'react-bootstrap'
import { Menu } from './Menu'
import { saveFile, sentenceOf } from './api'

const FORMATS = [
  ['csv', 'CSV', 'text, for any program'],
  ['xlsx', 'XLSX', 'workbook'],
  ['ods', 'ODS', 'workbook, open format'],
] as const

interface Props {
  /** What is asked for it, but for the format at its end. */
  readonly path: string
  /** What of it. */
  readonly body: object
  readonly drop?: 'up' | 'down'
  /** It can be had in other ways too. */
  readonly more?: readonly (readonly [format: string, name: string, about: string])[]
}

/** Saves a table as a file. */
export function SaveTableMenu({ path, body, drop, more = [] }: Props) {
  const [problem, setProblem] = useState<string | null>(null)
  const save = async (format: string) => {
    setProblem(null)
    try {
      await saveFile(`${path}/${format}`, body)
    } catch (error) {
      setProblem(sentenceOf(error))
    }
  }
  return (
    <>
      <Menu label="Save as" small align="end" {...(drop && { drop })}>
        {[...FORMATS, ...more].map(([format, name, about]) => (
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
