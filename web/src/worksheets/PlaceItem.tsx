import { useDroppable } from '@dnd-kit/core'

interface Props {
  /** Where worksheets that are dropped here go; null: nothing can be dropped. */
  readonly dropId: string | null
  readonly depth?: number
  readonly isHere: boolean
  readonly go: () => void
  readonly count: number
  readonly edit?: () => void
  readonly name: string
}

/** A place of the library: gone to by a click; worksheets can be dropped on it. */
export function PlaceItem({ dropId, depth = 0, isHere, go, count, edit, name }: Props) {
  const { setNodeRef, isOver } = useDroppable({ id: dropId ?? `none-${name}`, disabled: dropId === null })
  return (
    <li ref={setNodeRef} className={isOver ? 'place over' : 'place'} style={{ paddingInlineStart: depth * 14 }}>
      <button type="button" aria-current={isHere ? 'page' : undefined} onClick={go}>
        <bdi>{name}</bdi>
        {count > 0 && <span className="soft">{count}</span>}
      </button>
      {edit && (
        <button type="button" className="place-edit" onClick={edit} aria-label={`Change the folder ${name}`}>
          …
        </button>
      )}
    </li>
  )
}
