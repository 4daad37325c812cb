import { Link } from 'react-router'
import { timeInWords } from '../ui/time'
import type { WorksheetOpened } from './queries'

/** The kept editions of a worksheet, the newest first, each with what changed since the one before. */
export function Editions({ worksheet }: { readonly worksheet: WorksheetOpened }) {
  const { id, editions, version, keptVersion } = worksheet
  if (editions.length === 0) return null
  const compare = (from: number, to: number | 'draft') => `/worksheets/${id}/compare?from=${from}&to=${to}`
  return (
    <ul className="editions">
      {version !== keptVersion && (
        <li>
          Draft <Link to={compare(editions[0]!.number, 'draft')}>what changed</Link>
        </li>
      )}
      {editions.map(({ number, keptAt, copies }) => (
        <li key={number}>
          Edition {number}{' '}
          <span className="soft">
            {timeInWords(keptAt)} · {copies} {copies === 1 ? 'copy' : 'copies'}
          </span>{' '}
          {number > 1 && <Link to={compare(number - 1, number)}>what changed</Link>}
        </li>
      ))}
    </ul>
  )
}
