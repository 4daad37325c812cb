import { type CopyState, askedTogether, schoolDays } from '@gavrin/core'
import { useQueries, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { NewClass } from '../class/NewClass'
import { type ClassListed, useClasses } from '../class/queries'
import { type HandoutListed, handoutsKey } from '../composer/queries'
import { Loaded } from '../ui/Loaded'
import { StateBar } from '../ui/StateBar'
import { api } from '../ui/api'
import { timeInWords, weekday, zoneOfTimes } from '../ui/time'
import { useNow } from '../ui/useNow'
import { AnswerAll, type Question } from './AnswerAll'
import './desk.css'
import type { Answers } from '../contract'

const DAY = 86_400_000

/** The coming two weeks as lanes, a lane a class; handouts lie on their due day. */
export function TeacherDesk() {
  const classes = useClasses()
  const [making, setMaking] = useState(false)
  useEffect(() => {
    document.title = 'Desk – Gavrin'
  }, [])
  return (
    <main className="page desk">
      <Loaded query={classes}>
        {(all) => {
          const list = all.filter(({ archived }) => !archived)
          return list.length === 0 ? (
            <div className="empty">
              <h1>Begin with a class</h1>
              <p>Bring in its list, choose a worksheet, and hand out the first copies.</p>
              <Button onClick={() => setMaking(true)}>New class</Button>
            </div>
          ) : (
            <>
              <Lanes classes={list} />
              <Button variant="link" className="new-class" onClick={() => setMaking(true)}>
                New class
              </Button>
            </>
          )
        }}
      </Loaded>
      {making && <NewClass close={() => setMaking(false)} />}
    </main>
  )
}

function Lanes({ classes }: { classes: readonly ClassListed[] }) {
  const now = useNow()
  const handouts = useQueries({
    queries: classes.map(({ id }) => ({
      queryKey: handoutsKey(id),
      queryFn: () => api.get<HandoutListed[]>(`classes/${id}/handouts`),
      refetchInterval: 30_000,
    })),
  })
  const waiting = useQuery({
    queryKey: ['desk', 'needs'],
    queryFn: () => api.get<Difference[]>('desk/needs'),
    refetchInterval: 60_000,
  })
  const questions = useQuery({
    queryKey: ['desk', 'questions'],
    queryFn: () => api.get<Question[]>('desk/questions'),
    refetchInterval: 30_000,
  })
  const mentions = useQuery({
    queryKey: ['desk', 'mentions'],
    queryFn: () => api.get<Mention[]>('desk/mentions'),
    refetchInterval: 30_000,
  })
  const late = useQuery({
    queryKey: ['desk', 'late'],
    queryFn: () => api.get<LateCopy[]>('copies/late-writing'),
    refetchInterval: 60_000,
  })
  const days = schoolDays(now, 10, zoneOfTimes())
  const today = days.find((day) => day <= now)
  const together = askedTogether(questions.data ?? [])
  const alone = (questions.data ?? []).filter((question) => !together.some((same) => same.includes(question)))
  const [answering, setAnswering] = useState<readonly Question[] | null>(null)
  const needs: Need[] = [
    ...together.map((same) => togetherNeed(same, now, () => setAnswering(same))),
    ...questionNeeds(alone, now),
    ...mentionNeeds(mentions.data ?? [], questions.data ?? [], now),
    ...(late.data ?? []).map((copy) => lateNeed(copy, now)),
    ...(waiting.data ?? []).map(differenceNeed),
    ...classes.flatMap((listed, index) =>
      (handouts[index]?.data ?? []).flatMap((handout) => needsOf(listed, handout, now)),
    ),
  ]
  return (
    <>
      <h1 className="visually-hidden">Desk</h1>
      <table className="lanes">
        <thead>
          <tr>
            <th scope="col">Next ten school days</th>
            {days.map((day) => (
              <th key={day} scope="col" className={day === today ? 'today' : undefined}>
                {weekday(day)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {classes.map((listed, index) => (
            <tr key={listed.id}>
              <th scope="row">
                <Link to={`/class/${listed.id}`}>{listed.name}</Link>
                <span className="soft">
                  {listed.subject} · {listed.students}
                </span>
              </th>
              {days.map((day, place) => (
                <td key={day}>
                  {(handouts[index]?.data ?? [])
                    .filter(({ dueAt }) => dueAt !== null && dueAt >= day && dueAt < (days[place + 1] ?? day + DAY))
                    .map((handout) => (
                      <Slip key={handout.id} classId={listed.id} handout={handout} />
                    ))}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <section className="needs">
        <h2>Needs you</h2>
        {needs.length === 0 ? (
          <p className="soft">Nothing at the moment.</p>
        ) : (
          <ul>
            {needs.map(({ key, count, words, about, to, act }) => (
              <li key={key}>
                <span className="slab n">{count}</span>
                <span>
                  {words} <span className="soft">{about}</span>
                </span>
                {typeof to === 'string' ? (
                  <Link className="btn btn-outline-dark btn-sm" to={to}>
                    {act}
                  </Link>
                ) : (
                  <Button variant="outline-dark" size="sm" onClick={to}>
                    {act}
                  </Button>
                )}
              </li>
            ))}
          </ul>
        )}
      </section>
      {answering && <AnswerAll questions={answering} close={() => setAnswering(null)} />}
    </>
  )
}

/** Something that waits for a teacher. */
interface Need {
  readonly key: string
  readonly count: number
  readonly words: string
  readonly about: string
  /** Where it is done, or what does it. */
  readonly to: string | (() => void)
  readonly act: string
}

function Slip({ classId, handout }: { classId: string; handout: HandoutListed }) {
  const draft = handout.handedOutAt === null
  return (
    <Link className="desk-slip" to={`/class/${classId}/${draft ? 'slip' : 'handouts'}/${handout.id}`}>
      <span className="desk-slip-title">
        <span className="slab">{handout.number}</span> {handout.title}
      </span>
      {draft ? <span className="soft">draft</span> : <StateBar states={handout.states} />}
    </Link>
  )
}

/** Letters of a question that a line of the desk has room for. */
const ASKED = 90

/** A line for several who ask about the same, with the question that waits longest. */
function togetherNeed(same: readonly Question[], now: number, answer: () => void): Need {
  const { threadId, label, text, handoutTitle, number, class: className, at } = same[0]!
  return {
    key: `${threadId}-same`,
    count: same.length,
    words: `ask about ${label ? `“${inBrief(label)}”` : 'the same place'}: “${inBrief(text)}”`,
    about: `${handoutTitle}, No. ${number} · ${className} · ${timeInWords(at, now)}`,
    to: answer,
    act: 'Answer all',
  }
}

const inBrief = (text: string) => (text.length > ASKED ? `${text.slice(0, ASKED).trimEnd()} …` : text)

/** A line for each copy in which something is asked, with the question that waits longest. */
function questionNeeds(questions: readonly Question[], now: number) {
  const copies = [...new Set(questions.map(({ copyId }) => copyId))]
  return copies.map((copy) => {
    const asked = questions.filter((question) => question.copyId === copy)
    const { copyId, threadId, by, text, handoutTitle, number, class: className, at } = asked[0]!
    return {
      key: `${copyId}-asks`,
      count: asked.length,
      words: `${by} asks: “${inBrief(text)}”`,
      about: `${handoutTitle}, No. ${number} · ${className} · ${timeInWords(at, now)}`,
      to: `/copies/${copyId}?said=${threadId}`,
      act: 'Answer',
    }
  })
}

/** A comment in which this teacher is named. */
type Mention = Answers['GET desk/mentions'][number]

/** A line for each comment that names one, but for questions, which wait in any case. */
const mentionNeeds = (mentions: readonly Mention[], questions: readonly Question[], now: number): Need[] =>
  mentions
    .filter(({ threadId }) => !questions.some((question) => question.threadId === threadId))
    .map(({ commentId, threadId, copyId, by, text, handoutTitle, number, class: className, at }) => ({
      key: `${commentId}-names`,
      count: 1,
      words: `${by} to you: “${inBrief(text)}”`,
      about: `${handoutTitle}, No. ${number} · ${className} · ${timeInWords(at, now)}`,
      to: `/copies/${copyId}?said=${threadId}`,
      act: 'Look',
    }))

/** A copy in which something came late. */
type LateCopy = Answers['GET copies/late-writing'][number]

const lateNeed = ({ copyId, copyTitle, handoutTitle, number, class: className, count, at }: LateCopy, now: number) => ({
  key: `${copyId}-late`,
  count,
  words: `late writing in “${copyTitle}”`,
  about: `${handoutTitle}, No. ${number} · ${className} · ${timeInWords(at, now)}`,
  to: `/copies/${copyId}#late-writing`,
  act: 'Decide',
})

/** A handout of which something else exists than what was handed out says. */
type Difference = Answers['GET desk/needs'][number]

const differenceNeed = ({ handoutId, classId, class: className, number, title, count, sentence }: Difference) => ({
  key: `${handoutId}-differs`,
  count,
  words: `“${title}”: ${sentence}`,
  about: `${className}, No. ${number}`,
  to: `/class/${classId}/slip/${handoutId}`,
  act: 'Look at the proof',
})

const OUT: readonly CopyState[] = ['not opened', 'opened', 'working', 'taken back']

function needsOf(listed: ClassListed, handout: HandoutListed, now: number) {
  const board = `/class/${listed.id}/handouts/${handout.id}`
  const about = `${listed.name}, No. ${handout.number}`
  const needs: { key: string; count: number; words: string; about: string; to: string; act: string }[] = []
  const missing = OUT.reduce((sum, state) => sum + (handout.states[state] ?? 0), 0)
  if (handout.handedOutAt !== null && handout.dueAt !== null && handout.dueAt < now && missing > 0)
    needs.push({
      key: `${handout.id}-late`,
      count: missing,
      words: `not in, though “${handout.title}” was due ${timeInWords(handout.dueAt, now)}`,
      about,
      to: board,
      act: 'See who',
    })
  const submitted = handout.states.submitted ?? 0
  if (submitted > 0)
    needs.push({
      key: `${handout.id}-in`,
      count: submitted,
      words: `submitted in “${handout.title}”`,
      about,
      to: `${board}/marking`,
      act: 'Mark',
    })
  return needs
}
