import type { TypedPattern } from '@gavrin/core'
import { Button } from 'react-bootstrap'

interface Props {
  readonly problem: TypedPattern['problems'][number] | undefined
  /** Puts in what was probably meant. */
  readonly mend: () => void
}

/** Words in brackets that are no token, with the one that was probably meant. */
export function TokenProblem({ problem, mend }: Props) {
  if (!problem) return null
  return (
    <span className="pattern-note" role="status">
      {problem.sentence}{' '}
      {problem.meant && (
        <Button variant="link" size="sm" onClick={mend}>
          Put in <span className="token">{problem.meant}</span>
        </Button>
      )}
    </span>
  )
}
