import { mayInClass } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { Notice } from '../ui/Notice'
import { ApiError, api, sentenceOf } from '../ui/api'
import { CarryClass } from './CarryClass'
import { ClassFields } from './ClassFields'
import { ClassFrame } from './ClassFrame'
import { Units } from './Units'
import { WithClass } from './WithClass'
import { type ClassOpened, type Student, classKey } from './queries'
import type { Bodies } from '../contract'

/** What a class is called, its units, and what becomes of it at the end of the year. */
export function SetUpPage() {
  return (
    <WithClass>
      {(opened, students) => (
        <ClassFrame opened={opened} present={students.filter(({ leftAt }) => leftAt === null).length}>
          <div className="set-up-page set-up-columns">
            <Names key={`names ${opened.id}`} opened={opened} />
            <div>
              <Units key={`units ${opened.id}`} opened={opened} />
              <Rules key={`rules ${opened.id}`} opened={opened} />
            </div>
            <YearEnd
              key={`year ${opened.id}`}
              opened={opened}
              students={students.filter(({ leftAt }) => leftAt === null)}
            />
          </div>
        </ClassFrame>
      )}
    </WithClass>
  )
}

function Names({ opened }: { opened: ClassOpened }) {
  const client = useQueryClient()
  const { name, subject, year, ink } = opened
  const [entry, setEntry] = useState({ name, subject, year, ink })
  const [said, setSaid] = useState<{ bad: boolean; sentence: string; errors: ApiError['errors'] } | null>(null)
  const may = mayInClass(opened.role, 'set up the class', opened.archived).may
  const submit = async (event: SubmitEvent) => {
    event.preventDefault()
    try {
      await api.put(`classes/${opened.id}`, entry satisfies Bodies['PUT classes/{classId}'])
      setSaid({ bad: false, sentence: 'Kept.', errors: [] })
      await client.invalidateQueries({ queryKey: ['classes'] })
      await client.invalidateQueries({ queryKey: classKey(opened.id), exact: true })
    } catch (error) {
      setSaid({ bad: true, sentence: sentenceOf(error), errors: error instanceof ApiError ? error.errors : [] })
    }
  }
  return (
    <Form onSubmit={(event) => void submit(event)} noValidate aria-labelledby="names-title">
      <h2 id="names-title">The class</h2>
      <fieldset disabled={!may}>
        <ClassFields
          entry={entry}
          change={(next) => {
            setEntry(next)
            setSaid(null)
          }}
          error={(field) => said?.errors.find((problem) => problem.field === field)?.sentence}
        />
        <div className="form-acts">
          <Button type="submit">Keep</Button>
          {said && said.errors.length === 0 && (
            <span className={said.bad ? 'bad' : 'soft'} role="status">
              {said.sentence}
            </span>
          )}
        </div>
      </fieldset>
    </Form>
  )
}

/** What holds for all copies of the class; kept as it is switched. */
function Rules({ opened }: { opened: ClassOpened }) {
  const client = useQueryClient()
  const { id, classmatesComment, staffShown, helpersMark } = opened
  const keep = useMutation({
    mutationFn: (rules: Bodies['PUT classes/{classId}/rules']) => api.put<void>(`classes/${id}/rules`, rules),
    onSettled: () => client.invalidateQueries({ queryKey: classKey(id), exact: true }),
  })
  const now = keep.isPending ? keep.variables : { classmatesComment, staffShown, helpersMark }
  const may = mayInClass(opened.role, 'set up the class', opened.archived).may
  return (
    <section aria-labelledby="rules-title">
      <h2 id="rules-title">In copies</h2>
      <fieldset disabled={!may || keep.isPending}>
        <Form.Check
          type="switch"
          id="rule-comment"
          label="Students comment on what others write"
          checked={now.classmatesComment}
          onChange={({ target }) => keep.mutate({ ...now, classmatesComment: target.checked })}
        />
        <p className="soft">
          {now.classmatesComment
            ? 'Where a slip lets them see a copy and comment on it.'
            : 'Only in their own copies, and with the staff. Peer readers whom a slip chooses still say what they think.'}
        </p>
        <Form.Check
          type="switch"
          id="rule-staff"
          label="Students see when a teacher has their copy open"
          checked={now.staffShown}
          onChange={({ target }) => keep.mutate({ ...now, staffShown: target.checked })}
        />
        <p className="soft">Students are told which of the two it is, at the foot of their copy.</p>
        <Form.Check
          type="switch"
          id="rule-helpers"
          label="Helpers give marks"
          checked={now.helpersMark}
          onChange={({ target }) => keep.mutate({ ...now, helpersMark: target.checked })}
        />
        <p className="soft">
          {now.helpersMark
            ? 'To whom they help; the teachers of the class hand back.'
            : 'They remark on copies; the teachers of the class mark and hand back.'}
        </p>
      </fieldset>
      {keep.error && <Notice kind="bad">{sentenceOf(keep.error)}</Notice>}
    </section>
  )
}

function YearEnd({ opened, students }: { opened: ClassOpened; students: readonly Student[] }) {
  const client = useQueryClient()
  const [carrying, setCarrying] = useState(false)
  const [problem, setProblem] = useState<string | null>(null)
  const archive = async () => {
    try {
      await api.post(`classes/${opened.id}/${opened.archived ? 'bring-back' : 'archive'}`)
      setProblem(null)
    } catch (error) {
      setProblem(sentenceOf(error))
    }
    await client.invalidateQueries({ queryKey: ['classes'] })
    await client.invalidateQueries({ queryKey: classKey(opened.id) })
  }
  return (
    <section aria-labelledby="year-title">
      <h2 id="year-title">The next year</h2>
      <p className="soft">
        Make the class of the next year out of this one: with all its students or those you choose, its groups, staff,
        units, columns and handouts.
        {opened.carriedFrom && (
          <>
            {' '}
            This class was carried from{' '}
            <Link to={`/class/${opened.carriedFrom.id}`}>
              {opened.carriedFrom.name} {opened.carriedFrom.year}
            </Link>
            .
          </>
        )}
      </p>
      <p>
        <Button variant="outline-dark" onClick={() => setCarrying(true)}>
          Carry to the next year
        </Button>
      </p>
      {mayInClass(opened.role, 'archive the class').may && (
        <>
          <h2>{opened.archived ? 'Archived' : 'Archive'}</h2>
          <p className="soft">
            {opened.archived
              ? 'This class is put away: it can be looked at and not changed. Everything is as it was when you bring it back.'
              : 'Puts the class away: it leaves the lists, its copies can still be read, and nothing is lost.'}
          </p>
          <Button variant="outline-dark" onClick={() => void archive()}>
            {opened.archived ? 'Bring the class back' : 'Archive the class'}
          </Button>
        </>
      )}
      {problem && <Notice kind="bad">{problem}</Notice>}
      {carrying && <CarryClass opened={opened} students={students} close={() => setCarrying(false)} />}
    </section>
  )
}
