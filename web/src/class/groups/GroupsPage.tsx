import { mayInClass } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { useParams, useSearchParams } from 'react-router'
import { Loaded } from '../../ui/Loaded'
import { Notice } from '../../ui/Notice'
import { api, sentenceOf } from '../../ui/api'
import { ClassFrame } from '../ClassFrame'
import { WithClass } from '../WithClass'
import { type ClassOpened, type GroupSet, type Student, groupsKey, useGroupSets } from '../queries'
import { GroupBoard } from './GroupBoard'
import { NewGroupSet } from './NewGroupSet'
import './groups.css'

/** The group sets of a class, one of them open. */
export function GroupsPage() {
  const { classId = '' } = useParams()
  const sets = useGroupSets(classId)
  return (
    <WithClass>
      {(opened, students) => (
        <Loaded query={sets}>
          {(found) => <Groups key={classId} opened={opened} students={students} sets={found} />}
        </Loaded>
      )}
    </WithClass>
  )
}

function Groups({
  opened,
  students,
  sets,
}: {
  opened: ClassOpened
  students: readonly Student[]
  sets: readonly GroupSet[]
}) {
  const client = useQueryClient()
  const [params, setParams] = useSearchParams()
  const [making, setMaking] = useState(false)
  const [removed, setRemoved] = useState<{ id: string; name: string } | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const present = students.filter(({ leftAt }) => leftAt === null)
  const may = mayInClass(opened.role, 'change groups', opened.archived).may
  const set = sets.find(({ id }) => id === params.get('set')) ?? sets[0]
  const open = (id: string) => setParams({ set: id }, { replace: true })
  const attempt = async (work: () => Promise<void>) => {
    setProblem(null)
    try {
      await work()
    } catch (error) {
      setProblem(sentenceOf(error))
    }
    await client.invalidateQueries({ queryKey: groupsKey(opened.id) })
  }
  return (
    <ClassFrame
      opened={opened}
      present={present.length}
      acts={
        may && (
          <Button variant={sets.length ? 'outline-dark' : 'primary'} onClick={() => setMaking(true)}>
            New group set
          </Button>
        )
      }
    >
      {sets.length > 1 && (
        <div className="set-choice no-print" role="group" aria-label="Group sets">
          {sets.map(({ id, name, groups }) => (
            <button key={id} type="button" aria-pressed={id === set?.id} onClick={() => open(id)}>
              {name} <span className="soft">{groups.length}</span>
            </button>
          ))}
        </div>
      )}
      {problem && <Notice kind="bad">{problem}</Notice>}
      {removed && (
        <Notice kind="plain">
          The set {removed.name} was taken away.{' '}
          <Button
            variant="link"
            onClick={() =>
              void attempt(async () => {
                await api.post(`group-sets/${removed.id}/return`)
                setRemoved(null)
                open(removed.id)
              })
            }
          >
            Bring it back
          </Button>
        </Notice>
      )}
      {set ? (
        <GroupBoard
          key={set.id}
          opened={opened}
          students={present}
          set={set}
          may={may}
          remove={() =>
            void attempt(async () => {
              await api.delete(`group-sets/${set.id}`)
              setRemoved({ id: set.id, name: set.name })
            })
          }
        />
      ) : (
        <div className="empty">
          <h2>No groups yet</h2>
          <p>
            A class can be divided in several ways at once: survey crews, reading pairs, boat teams. Make groups by
            size, out of a column, by pasting, or let the students sign up.
          </p>
          {may && <Button onClick={() => setMaking(true)}>Make the first group set</Button>}
        </div>
      )}
      {making && (
        <NewGroupSet
          opened={opened}
          students={present}
          sets={sets}
          close={() => setMaking(false)}
          made={async (id) => {
            await client.invalidateQueries({ queryKey: groupsKey(opened.id) })
            open(id)
          }}
        />
      )}
    </ClassFrame>
  )
}
