import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import type { Answers, Bodies } from '../contract'
import { api } from '../ui/api'
import { exactTime } from '../ui/time'
import { type Found, type Pair, isCopy, nameOf } from './found'
import { pieces } from './pieces'

type Came = Answers['POST handouts/{handoutId}/likeness/came'][number]
type Run = Pair['runs'][number]

/** Runs of which it is told how they came, the longest. */
const TOLD = 6

interface Props {
  readonly handoutId: string
  readonly found: Found
  readonly pair: Pair
}

/** Two texts side by side with what they share, who wrote it first, and how it came. */
export function PairView({ handoutId, found, pair }: Props) {
  const sides = [
    { id: pair.a, side: 'a' as const },
    { id: pair.b, side: 'b' as const },
  ]
  const told = pair.runs.slice(0, TOLD)
  const asked = sides.flatMap(({ id, side }) =>
    isCopy(id) ? told.map((run) => ({ copyId: id, space: run[side].space, words: wordsIn(found, id, run[side]) })) : [],
  )
  const came = useQuery({
    queryKey: ['likeness', handoutId, pair.a, pair.b, asked],
    queryFn: () =>
      api.post<Came[]>(`handouts/${handoutId}/likeness/came`, {
        runs: asked,
      } satisfies Bodies['POST handouts/{handoutId}/likeness/came']),
    staleTime: Infinity,
  })
  const of = (at: number, run: number): Came | undefined => {
    const before = at === 1 && isCopy(pair.a) ? told.length : 0
    return isCopy(sides[at]!.id) ? came.data?.[before + run] : undefined
  }
  return (
    <section className="pair" aria-label={`${nameOf(found, pair.a)} and ${nameOf(found, pair.b)}`}>
      {sides.map(({ id, side }, at) => (
        <div key={id} className="pair-side">
          <h2>
            <bdi>{nameOf(found, id)}</bdi>{' '}
            {isCopy(id) && (
              <Link className="soft" to={`/copies/${id}`}>
                open the copy
              </Link>
            )}
          </h2>
          {partsOf(found, id).map(({ space, question, text }) => (
            <div key={space} className="pair-part">
              {question && (
                <p className="soft pair-question" dir="auto">
                  {question}
                </p>
              )}
              <p className="pair-text" dir="auto">
                {pieces(
                  text,
                  pair.runs.map((run) => run[side]).map((place, run) => ({ ...place, run })),
                  space,
                ).map(({ words, run }, key) =>
                  run === null ? (
                    words
                  ) : (
                    <mark key={key}>
                      {words}
                      {told.length > 1 && run < TOLD && <sup>{run + 1}</sup>}
                    </mark>
                  ),
                )}
              </p>
            </div>
          ))}
          {isCopy(id) && (
            <ul className="pair-came">
              {came.isPending && <li className="soft">Looking when it was written …</li>}
              {came.data &&
                told.map((run, number) => (
                  <li key={number}>
                    {told.length > 1 && <sup>{number + 1}</sup>} {cameInWords(of(at, number), of(1 - at, number), run)}
                  </li>
                ))}
            </ul>
          )}
        </div>
      ))}
    </section>
  )
}

const MINUTE = 60_000

/** How long something took, roughly. */
function lengthInWords(milliseconds: number): string {
  const minutes = Math.round(milliseconds / MINUTE)
  if (minutes < 120) return `${minutes} ${minutes === 1 ? 'minute' : 'minutes'}`
  const hours = Math.round(minutes / 60)
  return hours < 48 ? `${hours} hours` : `${Math.round(hours / 24)} days`
}

const partsOf = (found: Found, id: string) => found.texts.find((text) => text.id === id)?.parts ?? []

function wordsIn(found: Found, id: string, { space, from, to }: Run['a']): string {
  return (
    partsOf(found, id)
      .find((part) => part.space === space)
      ?.text.slice(from, to) ?? ''
  )
}

/** When and how words came, and whether they were here before they were in the other. */
function cameInWords(own: Came | undefined, other: Came | undefined, { words }: Run): string {
  if (!own) return `${words} words, of which it is not known any more how they came`
  const how = own.inOnePiece
    ? `came in one piece of ${own.largest} characters`
    : own.ended - own.began < 60_000
      ? `typed in ${own.changes} steps within a minute`
      : `typed in ${own.changes} steps over ${lengthInWords(own.ended - own.began)}`
  const first =
    other && own.ended < other.began ? 'here first; ' : other && other.ended < own.began ? 'here later; ' : ''
  return `${words} words, ${first}${how}, ${exactTime(own.ended)}${own.by ? `, by ${own.by}` : ''}`
}
