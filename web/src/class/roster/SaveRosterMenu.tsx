import { Dropdown } from 'react-bootstrap'
import { Menu } from '../../ui/Menu'
import { saveFile, sentenceOf } from '../../ui/api'
import type { Bodies } from '../../contract'

const FORMATS = [
  ['csv', 'CSV', 'text, for any program'],
  ['xlsx', 'XLSX', 'workbook'],
  ['ods', 'ODS', 'workbook, open format'],
  ['bundle', 'Rostering bundle', 'for school systems'],
] as const

interface Props {
  readonly classId: string
  /** Only these; left out: the whole class. */
  readonly personIds?: readonly string[]
  readonly report: (problem: string | null) => void
  readonly drop?: 'up' | 'down'
}

/** Saves the roster, or some of it, as a file. */
export function SaveRosterMenu({ classId, personIds, report, drop }: Props) {
  const save = async (format: string) => {
    report(null)
    try {
      await saveFile(
        `classes/${classId}/roster/out/${format}`,
        (personIds ? { personIds } : {}) satisfies Bodies['POST classes/{classId}/roster/out/{format}'],
      )
    } catch (error) {
      report(sentenceOf(error))
    }
  }
  return (
    <Menu label="Save as" small align="end" {...(drop && { drop })}>
      {FORMATS.map(([format, name, about]) => (
        <Dropdown.Item key={format} onClick={() => void save(format)}>
          {name} <span className="soft">{about}</span>
        </Dropdown.Item>
      ))}
    </Menu>
  )
}
