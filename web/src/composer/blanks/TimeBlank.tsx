import { MomentField } from '../../ui/MomentField'
import { timeInWords } from '../../ui/time'
import { Blank, BlankChoice } from '../Blank'

interface Props {
  /** What the time is of: "Due", "Open". */
  readonly what: string
  readonly at: number | null
  /** What no time means. */
  readonly none: string
  /** The time of day to begin with, as "16:00". */
  readonly usual: string
  readonly change: (at: number | null) => void
}

/** A day and a time, or none. */
export function TimeBlank({ what, at, none, usual, change }: Props) {
  const words = at === null ? none : timeInWords(at)
  return (
    <Blank stays label={`${what}: ${words}`} value={words}>
      <div className="blank-moment">
        <MomentField what={what} at={at} usual={usual} change={change} />
      </div>
      <BlankChoice chosen={at === null} choose={() => change(null)}>
        {none}
      </BlankChoice>
    </Blank>
  )
}
