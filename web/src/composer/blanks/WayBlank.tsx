import { type Way, findRef, withWay } from '@gavrin/core'
import { Blank, BlankChoice } from '../Blank'
import { type BlankProps, groupSetsOf } from './slip'

const WAYS: readonly { way: Way; word: string; about: string }[] = [
  { way: 'one each', word: 'one each', about: 'a copy for every student' },
  { way: 'one per group', word: 'one per group', about: 'a copy that a group shares' },
  { way: 'one together', word: 'one together', about: 'one copy for the whole class' },
  { way: 'to read', word: 'to read', about: 'the original: nobody writes in it' },
]

/** How an item is given, and of which group set. */
export function WayBlank({ item, facts, alter }: BlankProps) {
  const sets = groupSetsOf(facts)
  const worksheet = facts.worksheets.find(({ id }) => id === item.worksheetId)
  const edition = worksheet?.editions.find(({ number }) => number === item.edition)
  const hasPlaces = item.way === 'one together' && (edition?.groupSpaces ?? 0) > 0
  return (
    <>
      {item.way === 'to read' ? '' : 'as '}
      <Blank label={`Way: ${item.way}`} value={item.way}>
        {WAYS.map(({ way, word, about }) => (
          <BlankChoice
            key={way}
            chosen={item.way === way}
            choose={() =>
              alter(
                withWay(
                  item,
                  way,
                  sets.map(({ id, name }) => ({ id, name })),
                ),
              )
            }
          >
            {word} <span className="soft">{about}</span>
          </BlankChoice>
        ))}
      </Blank>
      {(item.way === 'one per group' || hasPlaces) && (
        <>
          {hasPlaces ? ', with a place for each group of ' : ' of '}
          <Blank
            label={`Group set: ${item.groupSet?.name ?? 'a group set'}`}
            value={<bdi>{item.groupSet?.name ?? 'a group set'}</bdi>}
            open={!item.groupSet}
          >
            {sets.map(({ id, name, groups }) => (
              <BlankChoice
                key={id}
                chosen={item.groupSet !== null && findRef(sets, item.groupSet)?.id === id}
                choose={() => alter({ groupSet: { id, name } })}
              >
                {name} <span className="soft">{groups.length} groups</span>
              </BlankChoice>
            ))}
            {sets.length === 0 && (
              <div className="blank-empty">This class has no group sets yet: make one under Class, Groups.</div>
            )}
          </Blank>
        </>
      )}
    </>
  )
}
