import type { SaveState } from '../live/openCopy'
import { exactTime, shortTime } from '../ui/time'

/** Whether what is written is saved, in words that are true. */
export function SaveNote({ save }: { readonly save: SaveState }) {
  switch (save.is) {
    case 'opening':
      return <span className="save-note">Opening …</span>
    case 'saving':
      return <span className="save-note">Saving …</span>
    case 'not saved':
      return <span className="save-note not-saved">Not saved yet</span>
    case 'saved':
      return save.at === null ? (
        <span className="save-note">All saved</span>
      ) : (
        <span className="save-note" title={exactTime(save.at)}>
          Saved {shortTime(save.at)}
        </span>
      )
  }
}
