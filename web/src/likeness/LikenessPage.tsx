import { useMutation } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useParams } from 'react-router'
import { useClass } from '../class/queries'
import type { Answers, Bodies } from '../contract'
import { useHandouts } from '../composer/queries'
import { FindField } from '../ui/FindField'
import { Notice } from '../ui/Notice'

import { api, sentenceOf } from '../ui/api'
import { BesideTexts, type BesideText } from './BesideTexts'
import { PairView } from './PairView'
import { type Found, nameOf } from './found'
import './likeness.css'

/** Copies that share more than the print and what the class has in common: pairs to look at, side by side. */
export function LikenessPage() {
  const { classId = '', handoutId = '' } = useParams()
  const opened = useClass(classId)
  const handouts = useHandouts(classId)
  const handout = handouts.data?.find(({ id }) => id === handoutId)
  const [withOthers, setWithOthers] = useState(false)
  const [beside, setBeside] = useState<readonly BesideText[]>([])
  const [chosen, setChosen] = useState(0)
  const compare = useMutation({
    mutationFn: (wished: Bodies['POST handouts/{handoutId}/likeness']) =>
      api.post<Answers['POST handouts/{handoutId}/likeness']>(`handouts/${handoutId}/likeness`, wished),
    onSuccess: () => setChosen(0),
  })
  const { mutate } = compare
  const go = (others: boolean, texts: readonly BesideText[]) => mutate({ withOthers: others, beside: [...texts] })
  const hasBegun = useRef(false)
  useEffect(() => {
    if (hasBegun.current) return
    hasBegun.current = true
    mutate({ withOthers: false, beside: [] })
  }, [mutate])
  useEffect(() => {
    document.title = 'Likeness – Gavrin'
  }, [])
  const found = compare.data
  const pair = found?.pairs[chosen]
  return (
    <main className="page likeness">
      <div className="page-head">
        <h1>Likeness</h1>
        <span className="soft">
          {handout && (
            <>
              No. {handout.number} <bdi>{handout.title}</bdi> ·{' '}
            </>
          )}
          {opened.data?.name}
        </span>
        <span className="page-acts">
          <Link className="btn btn-outline-dark" to={`/class/${classId}/handouts/${handoutId}`}>
            Back to the board
          </Link>
        </span>
      </div>
      <p className="soft likeness-about">
        Places to look, and no verdict: words in a row that two share, without the print of the worksheet and without
        what many of the class have. Who was in one group, or shares a copy, is not compared.
      </p>
      <div className="likeness-tools">
        <Form.Check
          id="with-others"
          label="with the copies of this worksheet in my other classes, and of earlier years"
          checked={withOthers}
          disabled={compare.isPending}
          onChange={({ target }) => {
            setWithOthers(target.checked)
            go(target.checked, beside)
          }}
        />
        <BesideTexts
          texts={beside}
          change={(texts) => {
            setBeside(texts)
            go(withOthers, texts)
          }}
        />
      </div>
      {compare.error && <Notice kind="bad">{sentenceOf(compare.error)}</Notice>}
      {compare.isPending && (
        <p role="status" className="soft">
          Comparing …
        </p>
      )}
      {found && !compare.isPending && <Compared found={found} chosen={chosen} choose={setChosen} />}
      {found && !compare.isPending && pair && <PairView key={chosen} handoutId={handoutId} found={found} pair={pair} />}
    </main>
  )
}

interface ComparedProps {
  readonly found: Found
  readonly chosen: number
  readonly choose: (at: number) => void
}

/** What was compared, and the pairs that came of it. */
function Compared({ found, chosen, choose }: ComparedProps) {
  const { own, others, unread } = found.compared
  const [find, setFind] = useState('')
  const words = find.toLocaleLowerCase()
  const shown = found.pairs
    .map((pair, at) => ({ pair, at }))
    .filter(({ pair }) => `${nameOf(found, pair.a)} ${nameOf(found, pair.b)}`.toLocaleLowerCase().includes(words))
  const compared = `${own} ${own === 1 ? 'copy' : 'copies'} compared${others > 0 ? `, against ${others} of other handouts` : ''}${
    unread > 0 ? `; ${unread} could not be read in time and ${unread === 1 ? 'is' : 'are'} left out` : ''
  }.`
  if (found.pairs.length === 0)
    return (
      <div className="empty">
        <h2>Nothing stands out</h2>
        <p>{compared} No two share more than a few words beyond what the class has in common.</p>
      </div>
    )
  return (
    <div className="likeness-pairs">
      <p className="soft">{compared}</p>
      {found.pairs.length > 8 && <FindField label="Find a name" value={find} change={setFind} />}
      <table className="grid">
        <thead>
          <tr>
            <th scope="col">Copy</th>
            <th scope="col">and</th>
            <th scope="col" className="n">
              Words shared
            </th>
            <th scope="col" className="n">
              of the first
            </th>
            <th scope="col" className="n">
              of the second
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map(({ pair, at }) => (
            <tr key={`${pair.a} ${pair.b}`} className={at === chosen ? 'chosen' : undefined}>
              <td>
                <Button variant="link" className="row-button" aria-pressed={at === chosen} onClick={() => choose(at)}>
                  <bdi>{nameOf(found, pair.a)}</bdi>
                </Button>
              </td>
              <td>
                <bdi>{nameOf(found, pair.b)}</bdi>
              </td>
              <td className="n">{pair.words}</td>
              <td className="n">{inHundred(pair.shareOfA)}</td>
              <td className="n">{inHundred(pair.shareOfB)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

const inHundred = (share: number) => `${Math.round(share * 100)} %`
