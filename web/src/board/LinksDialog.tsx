import type { HandoutItem } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Form, Modal } from 'react-bootstrap'
import { type WalkIn, useWalkIns, walkInsKey } from '../composer/queries'
import { MomentField } from '../ui/MomentField'
import { CopyLine } from '../ui/CopyLine'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { QrCode } from '../ui/QrCode'
import { api, sentenceOf } from '../ui/api'
import { timeInWords } from '../ui/time'
import type { Answers, Bodies } from '../contract'

type Given = Answers['GET handouts/{handoutId}']

/** The address for the whole class, and links for people without an account. */
export function LinksDialog({ handoutId, close }: { readonly handoutId: string; readonly close: () => void }) {
  const handout = useQuery({
    queryKey: ['handout', handoutId],
    queryFn: () => api.get<Given>(`handouts/${handoutId}`),
    staleTime: 0,
  })
  const walkIns = useWalkIns(handoutId)
  const classLink = `${location.origin}/to/${handoutId}`
  return (
    <Modal show size="lg" scrollable onHide={close} aria-labelledby="links-title">
      <Modal.Header closeButton>
        <Modal.Title id="links-title">Links</Modal.Title>
      </Modal.Header>
      <Modal.Body className="links-dialog">
        <section>
          <h2>Class link</h2>
          <p>One address for all: it opens each signed-in student’s own copy, and the board for staff.</p>
          <CopyLine label="Class link" text={classLink} />
        </section>
        <section>
          <h2>Walk-in links</h2>
          <p>For people without an account. They give a name, and come to this one thing and nothing else.</p>
          <Loaded query={handout}>
            {({ given, worksheets }) => (
              <Loaded query={walkIns}>
                {(list) => {
                  const items = (given?.items ?? []).filter(({ way, link }) => way !== 'one per group' && !link)
                  if (items.length === 0)
                    return (
                      <p className="soft">
                        {given
                          ? 'A copy for a group has its group: walk-in links are for one each, one together and to read.'
                          : 'Hand it out first.'}
                      </p>
                    )
                  return items.map((item) => (
                    <WalkInPart
                      key={item.id}
                      handoutId={handoutId}
                      item={item}
                      title={worksheets.find(({ id }) => id === item.worksheetId)?.title ?? ''}
                      walkIn={list.find(({ itemId }) => itemId === item.id) ?? null}
                    />
                  ))
                }}
              </Loaded>
            )}
          </Loaded>
        </section>
      </Modal.Body>
    </Modal>
  )
}

type Wish = Pick<WalkIn, 'permission' | 'open' | 'endsAt' | 'places'> & { readonly newCode?: boolean }

interface PartProps {
  readonly handoutId: string
  readonly item: HandoutItem
  readonly title: string
  readonly walkIn: WalkIn | null
}

function WalkInPart({ handoutId, item, title, walkIn: kept }: PartProps) {
  const client = useQueryClient()
  const set = useMutation({
    mutationFn: (wish: Wish) =>
      api.put<WalkIn[]>(
        `handouts/${handoutId}/walk-ins/${item.id}`,
        wish satisfies Bodies['PUT handouts/{handoutId}/walk-ins/{itemId}'],
      ),
    onSuccess: (list) => client.setQueryData(walkInsKey(handoutId), list),
  })
  const clear = useMutation({
    mutationFn: (all: boolean) =>
      api.post<Answers['POST handouts/{handoutId}/walk-ins/{itemId}/clear']>(
        `handouts/${handoutId}/walk-ins/${item.id}/clear`,
        { all } satisfies Bodies['POST handouts/{handoutId}/walk-ins/{itemId}/clear'],
      ),
    onSuccess: ({ list }) => client.setQueryData(walkInsKey(handoutId), list),
  })
  // What was set is shown at once; if it does not come true, a sentence says so and it is as it was.
  const walkIn = kept && set.isPending ? { ...kept, ...set.variables } : kept
  const toRead = item.way === 'to read'
  const address = walkIn ? `${location.origin}/in/${walkIn.code}` : ''
  const wish = (alteration: Partial<Wish>) =>
    set.mutate({
      permission: walkIn?.permission ?? (toRead ? 'view' : 'edit'),
      open: walkIn?.open ?? true,
      endsAt: walkIn?.endsAt ?? null,
      places: walkIn?.places ?? 60,
      ...alteration,
    })
  const endsAt = walkIn?.endsAt ?? null
  const over = endsAt !== null && endsAt <= Date.now()
  return (
    <div className="walk-in">
      <h3>
        <bdi>{title}</bdi> <span className="soft">{item.way}</span>
      </h3>
      {set.error && <Notice kind="bad">{sentenceOf(set.error)}</Notice>}
      {clear.error && <Notice kind="bad">{sentenceOf(clear.error)}</Notice>}
      {!walkIn ? (
        <Button size="sm" variant="outline-dark" disabled={set.isPending} onClick={() => wish({})}>
          Make a walk-in link
        </Button>
      ) : (
        <div className="walk-in-body">
          <div>
            <p className="walk-in-code">{walkIn.code}</p>
            <QrCode text={address} label={`QR code of the walk-in link to ${title}`} size={148} />
          </div>
          <div className="walk-in-set">
            <CopyLine label={`Walk-in link to ${title}`} text={address} />
            <Form.Check
              type="switch"
              id={`walk-in-open-${item.id}`}
              label={over ? 'over: set a later end to open it' : walkIn.open ? 'open' : 'closed: nobody comes in'}
              checked={walkIn.open}
              onChange={({ target }) => wish({ open: target.checked })}
            />
            <label>
              Guests{' '}
              <Form.Select
                size="sm"
                aria-label="What guests may do"
                value={walkIn.permission}
                onChange={({ target }) => wish({ permission: target.value as WalkIn['permission'] })}
              >
                <option value="view">may view</option>
                <option value="comment">may comment</option>
                {!toRead && <option value="edit">may write</option>}
              </Form.Select>
            </label>
            <label>
              Lets in{' '}
              <Form.Select
                size="sm"
                aria-label="How many guests it lets in"
                value={walkIn.places}
                onChange={({ target }) => wish({ places: Number(target.value) })}
              >
                {[...new Set([10, 20, 30, 40, 60, 100, 200, 500, walkIn.places])]
                  .sort((one, other) => one - other)
                  .map((places) => (
                    <option key={places} value={places}>
                      up to {places}
                    </option>
                  ))}
              </Form.Select>
            </label>
            <div>
              <span>Until (empty: no end)</span>
              <MomentField
                what={`Until, for the walk-in link to ${title}`}
                at={endsAt}
                usual="16:00"
                settles
                change={(at) => wish({ endsAt: at })}
              />
            </div>
            <Button size="sm" variant="link" onClick={() => wish({ newCode: true })}>
              New code (the old one stops working)
            </Button>
          </div>
          <div className="walk-in-uses">
            {walkIn.guests > 0 && (
              <p className="walk-in-clear">
                {walkIn.guests} of {walkIn.places} came in.{' '}
                <Button size="sm" variant="link" disabled={clear.isPending} onClick={() => clear.mutate(false)}>
                  Clear away who wrote nothing
                </Button>{' '}
                <Button size="sm" variant="link" disabled={clear.isPending} onClick={() => clear.mutate(true)}>
                  Clear all away
                </Button>{' '}
                <span className="soft">
                  Their own copies are set aside, with what is in them; a shared copy they leave. Who was matched with a
                  student stays.
                </span>
                {clear.data && <span role="status"> {clear.data.cleared} cleared away.</span>}
              </p>
            )}
            {walkIn.uses.length === 0 ? (
              <p className="soft">Nobody has come in yet.</p>
            ) : (
              <ul>
                {walkIn.uses.slice(0, 100).map((use) => (
                  <li key={`${use.name} ${use.at}`}>
                    <bdi>{use.name}</bdi>{' '}
                    <span className="soft">
                      {timeInWords(use.at)}
                      {use.again && ', again'}
                    </span>
                    {use.like && <span className="tag tag-warn">same name as {use.like} of the class</span>}
                  </li>
                ))}
              </ul>
            )}
          </div>
        </div>
      )}
    </div>
  )
}
