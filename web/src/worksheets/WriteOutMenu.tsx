import { useMutation } from '@tanstack/react-query'
import { Dropdown } from 'react-bootstrap'
import { saveFile, sentenceOf } from '../ui/api'
import type { Bodies } from '../contract'

interface Props {
  readonly worksheetId: string
  /** Null: the draft. */
  readonly edition: number | null
  /** What must be done first: keeping what was typed, say. */
  readonly before?: () => Promise<void>
}

const WAYS = [
  ['pdf', false, 'PDF to print'],
  ['pdf', true, 'PDF with the answer key'],
  ['docx', false, 'DOCX'],
  ['odt', false, 'OpenDocument (ODT)'],
  ['html', false, 'Web page (HTML)'],
  ['archive', false, 'Archive, to bring in again'],
] as const

/** The files that a worksheet can be saved as. */
export function WriteOutMenu({ worksheetId, edition, before }: Props) {
  const save = useMutation({
    mutationFn: async ({ format, key }: { format: string; key: boolean }) => {
      await before?.()
      await saveFile(`worksheets/${worksheetId}/out/${format}`, {
        edition,
        key,
      } satisfies Bodies['POST worksheets/{worksheetId}/out/{format}'])
    },
  })
  return (
    <>
      <Dropdown.Header>Save as</Dropdown.Header>
      {WAYS.map(([format, key, words]) => (
        <Dropdown.Item
          key={words}
          as="button"
          type="button"
          disabled={save.isPending}
          onClick={(event) => {
            event.stopPropagation()
            save.mutate({ format, key })
          }}
        >
          {save.isPending && save.variables.format === format && save.variables.key === key ? `${words} …` : words}
        </Dropdown.Item>
      ))}
      {save.error && <Dropdown.ItemText className="bad">{sentenceOf(save.error)}</Dropdown.ItemText>}
    </>
  )
}
