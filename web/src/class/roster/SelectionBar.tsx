import { mayInClass, tagsOf, withTag, withoutTag } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { Menu } from '../../ui/Menu'
import { api, sentenceOf } from '../../ui/api'
import { AskName } from '../AskName'
import { SaveRosterMenu } from './SaveRosterMenu'
import { type ClassListed, type ClassOpened, type GroupSet, type Student, classKey, useClasses } from '../queries'
import { type CellEdit, cellOf } from './useRosterEdits'
import type { Answers, Bodies } from '../../contract'

interface Props {
  readonly opened: ClassOpened
  readonly sets: readonly GroupSet[]
  readonly chosen: readonly Student[]
  readonly may: boolean
  readonly apply: (edits: readonly CellEdit[]) => Promise<boolean>
  readonly clear: () => void
  readonly changed: () => Promise<unknown>
  /** Takes students out of the class. */
  readonly leave: (students: readonly Student[]) => Promise<unknown>
}

/** What can be done with the students who are selected. */
export function SelectionBar({ opened, sets, chosen, may, apply, clear, changed, leave }: Props) {
  const [said, setSaid] = useState<{ readonly bad: boolean; readonly text: string } | null>(null)
  const [tagging, setTagging] = useState(false)
  const client = useQueryClient()
  const others = (useClasses().data ?? []).filter(
    ({ id, role, archived }) => id !== opened.id && mayInClass(role, 'change the roster', archived).may,
  )
  const present = chosen.filter(({ leftAt }) => leftAt === null)
  const left = chosen.filter(({ leftAt }) => leftAt !== null)
  const ids = present.map(({ personId }) => personId)
  const tags = opened.columns.find(({ kind }) => kind === 'tags')
  const onThem = tags ? [...new Set(chosen.flatMap((student) => tagsOf(cellOf(student, tags.id))))] : []
  const invitable = present.filter(({ canSignIn, email }) => !canSignIn && email)

  const attempt = async (work: () => Promise<string | void>) => {
    try {
      const text = await work()
      setSaid(text ? { bad: false, text } : null)
    } catch (error) {
      setSaid({ bad: true, text: sentenceOf(error) })
    }
    await changed()
  }
  const tag = async (word: string, put: boolean) => {
    const id =
      tags?.id ??
      (
        await api.post<Answers['POST classes/{classId}/columns']>(`classes/${opened.id}/columns`, {
          name: 'Tags',
          kind: 'tags',
        } satisfies Bodies['POST classes/{classId}/columns'])
      ).id
    await changed()
    await apply(
      chosen.map((student) => ({
        personId: student.personId,
        field: id,
        value: put ? withTag(cellOf(student, id), word) : withoutTag(cellOf(student, id), word),
      })),
    )
  }
  const putInto = async ({ id, name, subject }: ClassListed) => {
    const { added } = await api.post<Answers['POST classes/{classId}/roster/from']>(`classes/${id}/roster/from`, {
      from: opened.id,
      personIds: ids,
    } satisfies Bodies['POST classes/{classId}/roster/from'])
    await client.invalidateQueries({ queryKey: classKey(id) })
    const there = ids.length - added
    const already = there > 0 ? `; ${there} ${there === 1 ? 'was' : 'were'} there already` : ''
    return `${added} ${added === 1 ? 'is' : 'are'} in ${name} ${subject} too now${already}.`
  }
  return (
    <div className="selection-bar" role="region" aria-label="Selected students">
      <strong>{chosen.length} selected</strong>
      {may && present.length > 0 && (
        <>
          <Menu label="Tag" small drop="up">
            <Dropdown.Item onClick={() => setTagging(true)}>Put a tag on them</Dropdown.Item>
            {onThem.map((word) => (
              <Dropdown.Item key={word} onClick={() => void attempt(() => tag(word, false))}>
                Take off “{word}”
              </Dropdown.Item>
            ))}
          </Menu>
          <Menu label="Move to a group" small drop="up" disabled={sets.length === 0}>
            {sets.map((set) => (
              <div key={set.id}>
                <Dropdown.Header>{set.name}</Dropdown.Header>
                {[...set.groups, { id: null, name: 'no group' }].map((group) => (
                  <Dropdown.Item
                    key={group.id ?? 'none'}
                    onClick={() =>
                      void attempt(async () => {
                        await api.post(`group-sets/${set.id}/moves`, {
                          personIds: ids,
                          groupId: group.id,
                        } satisfies Bodies['POST group-sets/{setId}/moves'])
                        return `${ids.length} moved to ${group.name}.`
                      })
                    }
                  >
                    {group.id ? group.name : <em>no group</em>}
                  </Dropdown.Item>
                ))}
              </div>
            ))}
          </Menu>
          <Button
            size="sm"
            variant="outline-dark"
            disabled={invitable.length === 0}
            onClick={() =>
              void attempt(async () => {
                const { invited } = await api.post<Answers['POST classes/{classId}/invitations']>(
                  `classes/${opened.id}/invitations`,
                  {
                    personIds: invitable.map(({ personId }) => personId),
                  } satisfies Bodies['POST classes/{classId}/invitations'],
                )
                return `${invited} ${invited === 1 ? 'invitation goes' : 'invitations go'} out by mail; the mailroom shows how.`
              })
            }
          >
            Invite {invitable.length || ''} by mail
          </Button>
          <Link
            className="btn btn-sm btn-outline-dark"
            to={`/class/${opened.id}/cards`}
            state={{ personIds: present.map(({ personId }) => personId) }}
          >
            Cards
          </Link>
        </>
      )}
      <SaveRosterMenu
        classId={opened.id}
        personIds={ids}
        report={(problem) => setSaid(problem ? { bad: true, text: problem } : null)}
        drop="up"
      />
      {present.length > 0 && others.length > 0 && (
        <Menu label="Put into another class" small drop="up">
          {others.map((other) => (
            <Dropdown.Item key={other.id} onClick={() => void attempt(() => putInto(other))}>
              {other.name} <span className="soft">{`${other.subject} ${other.year}`}</span>
            </Dropdown.Item>
          ))}
        </Menu>
      )}
      {may && present.length > 0 && (
        <Button size="sm" variant="outline-dark" onClick={() => void leave(present)}>
          Remove {present.length}
        </Button>
      )}
      {may && left.length > 0 && (
        <Button
          size="sm"
          variant="outline-dark"
          onClick={() =>
            void attempt(async () => {
              await api.post(`classes/${opened.id}/roster/return`, {
                personIds: left.map(({ personId }) => personId),
              } satisfies Bodies['POST classes/{classId}/roster/return'])
            })
          }
        >
          Take {left.length} back in
        </Button>
      )}
      <Button size="sm" variant="link" onClick={clear}>
        Select nobody
      </Button>
      {said && (
        <span className={said.bad ? 'bad' : 'soft'} role={said.bad ? 'alert' : 'status'}>
          {said.text}
        </span>
      )}
      {tagging && (
        <AskName
          title={`Put a tag on ${chosen.length}`}
          label="Tag, e.g. boat club"
          name=""
          done="Put it on"
          close={() => setTagging(false)}
          keep={(word) => tag(word.replaceAll(',', ' '), true)}
        />
      )}
    </div>
  )
}
