import { Link } from 'react-router'
import { Notice } from '../ui/Notice'
import { exactTime, timeInWords } from '../ui/time'
import type { CopyPageData } from './queries'

/** That a copy is one's own to keep, and where the one of the class is. */
export function KeptNotice({ data: { keptFrom }, now }: { readonly data: CopyPageData; readonly now: number }) {
  if (!keptFrom) return null
  return (
    <Notice kind="plain">
      Yours to keep, given by <bdi>{keptFrom.by}</bdi>{' '}
      <span title={exactTime(keptFrom.at)}>{timeInWords(keptFrom.at, now)}</span>. Only you see it: go on in it as you
      like. <Link to={`/copies/${keptFrom.copyId}`}>The copy of your class</Link>, with what was said of it, stays as it
      is.
    </Notice>
  )
}
