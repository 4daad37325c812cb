import { isFound } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Form } from 'react-bootstrap'
import { Link, useParams } from 'react-router'
import { FindField } from '../ui/FindField'
import { Loaded } from '../ui/Loaded'
import { Menu } from '../ui/Menu'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { timeInWords } from '../ui/time'
import { Editions } from './Editions'
import { Thumbnail } from './Thumbnail'
import { WriteOutMenu } from './WriteOutMenu'
import './library.css'
import { type WorksheetOpened, useWorksheet } from './queries'
import type { Answers, Bodies } from '../contract'

type HandedOut = Answers['GET worksheets/{worksheetId}/handouts'][number]

type Shares = Answers['GET worksheets/{worksheetId}/shares']

/** One worksheet: its editions, where they were handed out, and who else sees it. */
export function AboutPage() {
  const { worksheetId = '' } = useParams()
  const query = useWorksheet(worksheetId)
  return <Loaded query={query}>{(worksheet) => <About worksheet={worksheet} />}</Loaded>
}

function About({ worksheet }: { worksheet: WorksheetOpened }) {
  const { id, title } = worksheet
  const handouts = useQuery({
    queryKey: ['worksheet', id, 'handouts'],
    queryFn: () => api.get<HandedOut[]>(`worksheets/${id}/handouts`),
  })
  useEffect(() => {
    document.title = `About ${title} – Gavrin`
  }, [title])
  return (
    <main className="page">
      <div className="page-head">
        <h1>
          <bdi>{title}</bdi>
        </h1>
        <span className="page-acts">
          <Menu label="Save as" align="end">
            <WriteOutMenu worksheetId={id} edition={null} />
          </Menu>
          <Link className="btn btn-primary" to={`/worksheets/${id}`}>
            {worksheet.mayChange ? 'Write in it' : 'Read'}
          </Link>
        </span>
      </div>
      <div className="about-columns">
        <div className="about-page">
          <Thumbnail id={id} version={worksheet.version} />
        </div>
        <div>
          <section>
            <h2>Editions</h2>
            {worksheet.editions.length === 0 ? (
              <p className="soft">No edition was kept yet. Copies are only ever made of a kept edition.</p>
            ) : (
              <Editions worksheet={worksheet} />
            )}
          </section>
          <section>
            <h2>Handed out</h2>
            <Loaded query={handouts}>
              {(list) =>
                list.length === 0 ? (
                  <p className="soft">Not handed out in your classes yet.</p>
                ) : (
                  <table className="grid">
                    <thead>
                      <tr>
                        <th scope="col">Handout</th>
                        <th scope="col">Class</th>
                        <th scope="col">Edition</th>
                        <th scope="col" className="n">
                          Copies
                        </th>
                        <th scope="col" className="n">
                          Submitted
                        </th>
                        <th scope="col">When</th>
                      </tr>
                    </thead>
                    <tbody>
                      {list.map((one) => (
                        <tr key={`${one.handoutId}-${one.edition}`}>
                          <td>
                            <Link className="row-link" to={`/class/${one.classId}/handouts/${one.handoutId}`}>
                              No. {one.number} · <bdi>{one.title}</bdi>
                            </Link>
                          </td>
                          <td>
                            {one.class}, {one.subject}
                          </td>
                          <td>{one.edition}</td>
                          <td className="n">{one.copies}</td>
                          <td className="n">{one.submitted}</td>
                          <td>{one.handedOutAt === null ? '–' : timeInWords(one.handedOutAt)}</td>
                        </tr>
                      ))}
                    </tbody>
                  </table>
                )
              }
            </Loaded>
          </section>
          {worksheet.isOwner && <Sharing worksheetId={id} />}
        </div>
      </div>
    </main>
  )
}

/** All of a few; of many those who are let in already, until somebody is looked for. */
function colleagues(people: Shares['people'], find: string): Shares['people'] {
  if (people.length <= FEW) return people
  return people.filter(({ name, may }) => (find ? isFound(name, find) : may !== null)).slice(0, 50)
}

/** So many colleagues are listed without being asked for by name. */
const FEW = 12

function Sharing({ worksheetId }: { worksheetId: string }) {
  const client = useQueryClient()
  const [find, setFind] = useState('')
  const key = ['worksheet', worksheetId, 'shares']
  const shares = useQuery({ queryKey: key, queryFn: () => api.get<Shares>(`worksheets/${worksheetId}/shares`) })
  const keep = useMutation({
    mutationFn: (next: Shares) =>
      api.put(`worksheets/${worksheetId}/shares`, {
        schoolMay: next.schoolMay,
        people: next.people.flatMap(({ personId, may }) => (may ? [{ personId, may }] : [])),
      } satisfies Bodies['PUT worksheets/{worksheetId}/shares']),
    onMutate: (next) => client.setQueryData(key, next),
    onSettled: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: key }),
        client.invalidateQueries({ queryKey: ['worksheets'] }),
      ]),
  })
  return (
    <section>
      <h2>Colleagues</h2>
      <Loaded query={shares}>
        {(now) => (
          <>
            <p>
              <Form.Select
                size="sm"
                className="d-inline-block w-auto"
                aria-label="All teachers of the school"
                value={now.schoolMay}
                onChange={({ target }) => keep.mutate({ ...now, schoolMay: target.value as Shares['schoolMay'] })}
              >
                <option value="none">Only those named below</option>
                <option value="view">All teachers of the school may view it and give it out</option>
                <option value="edit">All teachers of the school may edit it</option>
              </Form.Select>
            </p>
            {now.people.length > FEW && <FindField label="Find a colleague" value={find} change={setFind} />}
            <table className="sharing">
              <tbody>
                {colleagues(now.people, find).map(({ personId, name, may }) => (
                  <tr key={personId}>
                    <th scope="row">
                      <bdi>{name}</bdi>
                    </th>
                    <td>
                      <Form.Select
                        size="sm"
                        aria-label={`What ${name} may do`}
                        value={may ?? ''}
                        onChange={({ target }) =>
                          keep.mutate({
                            ...now,
                            people: now.people.map((person) =>
                              person.personId === personId
                                ? { ...person, may: (target.value || null) as 'view' | 'edit' | null }
                                : person,
                            ),
                          })
                        }
                      >
                        <option value="">nothing more</option>
                        <option value="view">may view it and give it out</option>
                        <option value="edit">may edit it</option>
                      </Form.Select>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {find && colleagues(now.people, find).length === 0 && <p className="soft">Nobody of that name.</p>}
            {now.people.length > FEW && !find && (
              <p className="soft">{now.people.length} colleagues: find the others by name.</p>
            )}
            {keep.error && <Notice kind="bad">{sentenceOf(keep.error)}</Notice>}
          </>
        )}
      </Loaded>
    </section>
  )
}
