import type { ReactNode } from 'react'
import { useParams } from 'react-router'
import { Loaded } from '../ui/Loaded'
import { type ClassOpened, type Student, useClass, useRoster } from './queries'

/** Shows something once the class of the address and its roster are there. */
export function WithClass({
  children,
}: {
  children: (opened: ClassOpened, students: readonly Student[]) => ReactNode
}) {
  const { classId = '' } = useParams()
  const opened = useClass(classId)
  const roster = useRoster(classId)
  return (
    <Loaded query={opened}>
      {(found) => <Loaded query={roster}>{(students) => children(found, students)}</Loaded>}
    </Loaded>
  )
}
