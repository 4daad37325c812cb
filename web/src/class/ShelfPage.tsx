import { type HandoutItem, plainItem, withWay } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Dropdown, Form } from 'react-bootstrap'
import { Link, useParams } from 'react-router'
import { WorksheetMenu } from '../composer/blanks/WorksheetBlank'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { OVER_PAGE } from '../ui/overPage'
import { sinceInWords } from '../ui/time'
import { ClassFrame } from './ClassFrame'
import { useClass, useRoster } from './queries'
import type { Answers, Bodies } from '../contract'

interface ShelfItem extends HandoutItem {
  readonly title: string
  /** The newest edition there is. */
  readonly newest: number | null
  readonly copyId: string | null
  readonly words: number
  readonly lastActivityAt: number | null
}

type Shelf = Answers['GET classes/{classId}/shelf']

/** The standing place of a class: a part to read, and a part to work on together. */
export function ShelfPage() {
  const { classId = '' } = useParams()
  const opened = useClass(classId)
  const roster = useRoster(classId)
  const key = ['shelf', classId]
  const client = useQueryClient()
  const shelf = useQuery({ queryKey: key, queryFn: () => api.get<Shelf>(`classes/${classId}/shelf`), staleTime: 0 })
  const keep = useMutation({
    mutationFn: ({ items, version }: { items: readonly HandoutItem[]; version: number }) =>
      api.put<Shelf>(`classes/${classId}/shelf`, { items, version } satisfies Bodies['PUT classes/{classId}/shelf']),
    onSuccess: (made) => client.setQueryData(key, made),
    onError: () => client.invalidateQueries({ queryKey: key }),
  })
  return (
    <Loaded query={opened}>
      {(found) => (
        <ClassFrame opened={found} present={(roster.data ?? []).filter(({ leftAt }) => leftAt === null).length}>
          {keep.error && <Notice kind="bad">{sentenceOf(keep.error)}</Notice>}
          <Loaded query={shelf}>
            {(on) => {
              const put = (items: readonly ShelfItem[] | readonly HandoutItem[]) =>
                keep.mutate({ items, version: on.version })
              return (
                <>
                  <p className="soft">
                    What lies here is open to the whole class at any time, without being handed out and without a due
                    time.
                  </p>
                  <div className="shelf">
                    {(['to read', 'one together'] as const).map((way) => (
                      <ShelfPart key={way} way={way} classId={classId} shelf={on} busy={keep.isPending} put={put} />
                    ))}
                  </div>
                </>
              )
            }}
          </Loaded>
        </ClassFrame>
      )}
    </Loaded>
  )
}

interface PartProps {
  readonly way: 'to read' | 'one together'
  readonly classId: string
  readonly shelf: Shelf
  readonly busy: boolean
  readonly put: (items: readonly HandoutItem[]) => void
}

function ShelfPart({ way, classId, shelf, busy, put }: PartProps) {
  const own = shelf.items.filter((item) => item.way === way)
  const move = (item: ShelfItem, step: number) => {
    const at = own.indexOf(item)
    const other = own[at + step]
    if (!other) return
    put(shelf.items.map((each) => (each === item ? other : each === other ? item : each)))
  }
  return (
    <section className="shelf-part" aria-label={way === 'to read' ? 'To read' : 'To work on together'}>
      <h2>{way === 'to read' ? 'To read' : 'To work on together'}</h2>
      {own.length === 0 && (
        <p className="soft">
          {way === 'to read'
            ? 'Nothing here yet. What you put here, the class can read at any time.'
            : 'Nothing here yet. What you put here, the whole class writes in.'}
        </p>
      )}
      <ul className="shelf-list">
        {own.map((item, at) => (
          <li key={item.id}>
            <span className="shelf-title">
              {item.copyId ? (
                <Link to={`/copies/${item.copyId}`}>
                  <bdi>{item.title}</bdi>
                </Link>
              ) : (
                <bdi>{item.title}</bdi>
              )}
              <span className="soft">
                {item.link
                  ? item.link.address
                  : way === 'one together'
                    ? `${item.words} words${item.lastActivityAt === null ? '' : `, ${sinceInWords(item.lastActivityAt)}`}`
                    : `edition ${item.edition}`}
              </span>
            </span>
            {shelf.mayChange && (
              <span className="shelf-acts">
                {item.newest !== null && item.edition !== null && item.newest > item.edition && (
                  <Button
                    size="sm"
                    variant="link"
                    disabled={busy}
                    onClick={() =>
                      put(shelf.items.map((each) => (each === item ? { ...each, edition: item.newest } : each)))
                    }
                  >
                    Put edition {item.newest} here
                  </Button>
                )}
                <Button
                  size="sm"
                  variant="link"
                  disabled={busy || at === 0}
                  aria-label={`Move ${item.title} up`}
                  onClick={() => move(item, -1)}
                >
                  ↑
                </Button>
                <Button
                  size="sm"
                  variant="link"
                  disabled={busy || at === own.length - 1}
                  aria-label={`Move ${item.title} down`}
                  onClick={() => move(item, 1)}
                >
                  ↓
                </Button>
                <Button
                  size="sm"
                  variant="link"
                  disabled={busy}
                  onClick={() => put(shelf.items.filter((each) => each !== item))}
                >
                  Take off
                </Button>
              </span>
            )}
          </li>
        ))}
      </ul>
      {shelf.mayChange && (
        <AddToShelf classId={classId} way={way} busy={busy} add={(item) => put([...shelf.items, item])} />
      )}
    </section>
  )
}

function AddToShelf({
  classId,
  way,
  busy,
  add,
}: {
  classId: string
  way: PartProps['way']
  busy: boolean
  add: (item: HandoutItem) => void
}) {
  const [open, setOpen] = useState(false)
  const [link, setLink] = useState('')
  const offered = useQuery({
    queryKey: ['slip offered', classId],
    queryFn: () =>
      api.get<Answers['GET classes/{classId}/handouts/beginning']>(`classes/${classId}/handouts/beginning`),
    enabled: open,
  })
  const begin = (worksheetId: string | null, edition: number | null) =>
    withWay(plainItem(`s${crypto.randomUUID().slice(0, 8)}`, worksheetId, edition), way, [])
  const isLink = /^https?:\/\/[^\s/]/i.test(link.trim())
  return (
    <div className="shelf-add">
      <Dropdown onToggle={setOpen}>
        <Dropdown.Toggle size="sm" variant="outline-dark" id={`shelf-add-${way.replace(' ', '-')}`} disabled={busy}>
          Put a worksheet here
        </Dropdown.Toggle>
        <Dropdown.Menu className="blank-menu" popperConfig={OVER_PAGE}>
          {offered.data && (
            <WorksheetMenu
              worksheets={offered.data.worksheets}
              chosenId={null}
              choose={(worksheetId, edition) => edition !== null && add(begin(worksheetId, edition))}
            />
          )}
        </Dropdown.Menu>
      </Dropdown>
      {way === 'to read' && (
        <form
          className="shelf-link"
          onSubmit={(event) => {
            event.preventDefault()
            if (!isLink) return
            add({ ...begin(null, null), link: { address: link.trim(), title: '' } })
            setLink('')
          }}
        >
          <Form.Control
            size="sm"
            type="url"
            aria-label="Address of a link"
            placeholder="https://"
            value={link}
            isInvalid={link !== '' && !isLink && link.length > 8}
            onChange={({ target }) => setLink(target.value)}
          />
          <Button size="sm" variant="outline-dark" type="submit" disabled={!isLink || busy}>
            Put a link here
          </Button>
        </form>
      )}
    </div>
  )
}
