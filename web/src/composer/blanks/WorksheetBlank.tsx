import { type PlanWorksheet, isFound } from '@gavrin/core'
import { useState } from 'react'
import { Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { FindField } from '../../ui/FindField'
import { Blank, BlankChoice } from '../Blank'
import type { BlankProps } from './slip'

const BUILT_IN_WORDS: Readonly<Record<string, { word: string; about: string }>> = {
  'blank page': { word: 'a blank page', about: 'one place to write, nothing printed' },
  'own file': { word: 'a page for their own file', about: 'they hand in photographs or documents' },
}

export const worksheetWords = (worksheet: PlanWorksheet | undefined) =>
  worksheet ? (BUILT_IN_WORDS[worksheet.builtIn ?? '']?.word ?? worksheet.title) : 'which worksheet?'

interface MenuProps {
  readonly worksheets: readonly PlanWorksheet[]
  readonly chosenId: string | null
  readonly choose: (worksheetId: string, edition: number | null) => void
}

/** The worksheets that can be given, and what is given where there is none. */
export function WorksheetMenu({ worksheets, chosenId, choose }: MenuProps) {
  const [find, setFind] = useState('')
  const library = worksheets.filter(({ builtIn }) => !builtIn)
  return (
    <>
      {library.length > 6 && (
        <div className="blank-find">
          <FindField label="Find a worksheet" value={find} change={setFind} />
        </div>
      )}
      {library
        .filter(({ title }) => isFound(title, find))
        .slice(0, 200)
        .map((worksheet) => {
          const newest = worksheet.editions.at(-1)
          return (
            <BlankChoice
              key={worksheet.id}
              chosen={worksheet.id === chosenId}
              choose={() => choose(worksheet.id, newest?.number ?? null)}
            >
              {worksheet.title}{' '}
              <span className="soft">
                {newest
                  ? `edition ${newest.number}, ${newest.answerSpaces} answer ${newest.answerSpaces === 1 ? 'space' : 'spaces'}${placesWords(newest)}`
                  : 'no edition kept yet'}
              </span>
            </BlankChoice>
          )
        })}
      {library.length === 0 && (
        <div className="blank-empty">
          You have no worksheets yet. <Link to="/worksheets">Write one</Link>
        </div>
      )}
      <Dropdown.Divider />
      {worksheets
        .filter(({ builtIn }) => builtIn && BUILT_IN_WORDS[builtIn])
        .map((worksheet) => (
          <BlankChoice
            key={worksheet.id}
            chosen={worksheet.id === chosenId}
            choose={() => choose(worksheet.id, worksheet.editions.at(-1)?.number ?? null)}
          >
            {worksheetWords(worksheet)} <span className="soft">{BUILT_IN_WORDS[worksheet.builtIn!]!.about}</span>
          </BlankChoice>
        ))}
    </>
  )
}

const placesWords = ({ memberSpaces, groupSpaces }: PlanWorksheet['editions'][number]) =>
  groupSpaces > 0 ? ', a place for each group' : memberSpaces > 0 ? ', a part for each member' : ''

/** Which worksheet an item gives. */
export function WorksheetBlank({ item, facts, alter }: BlankProps) {
  const chosen = facts.worksheets.find(({ id }) => id === item.worksheetId)
  const words = worksheetWords(chosen)
  return (
    <Blank label={`Worksheet: ${words}`} value={<bdi>{words}</bdi>} open={!chosen}>
      <WorksheetMenu
        worksheets={facts.worksheets}
        chosenId={item.worksheetId}
        choose={(worksheetId, edition) => alter({ worksheetId, edition, earlier: {} })}
      />
    </Blank>
  )
}
