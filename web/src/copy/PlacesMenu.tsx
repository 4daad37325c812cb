import type { ProgressBySpace } from '@gavrin/core'
import Dropdown from 'react-bootstrap/Dropdown'
import { OVER_PAGE } from '../ui/overPage'
import type { CopyPageData } from './queries'

/** So many places are in sight at once. */
const FEW = 2

/** The places of a copy, one's own first, to jump to: whose each is, and how far. */
export function PlacesMenu({
  places,
  progress,
}: Pick<CopyPageData, 'places'> & { readonly progress: ProgressBySpace }) {
  if (places.length < FEW) return null
  const sorted = places.toSorted((a, b) => Number(b.isOwn) - Number(a.isOwn))
  const answered = (spaces: readonly string[]) => spaces.filter((id) => (progress[id]?.share ?? 0) >= 1).length
  return (
    <Dropdown as="span" className="reading-menu">
      <Dropdown.Toggle variant="link" size="sm" id="places">
        Places
      </Dropdown.Toggle>
      <Dropdown.Menu className="places-menu" popperConfig={OVER_PAGE}>
        {sorted.map(({ name, isOwn, spaces }) => (
          <Dropdown.Item key={spaces[0]} href={`#space-${spaces[0]}`}>
            <bdi>{name}</bdi>
            {isOwn && <strong> · yours</strong>}{' '}
            <span className="soft">
              {answered(spaces)} of {spaces.length}
            </span>
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  )
}
