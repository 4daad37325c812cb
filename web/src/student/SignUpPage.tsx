import { fullName } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { Link, useParams } from 'react-router'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { timeInWords } from '../ui/time'
import { useNow } from '../ui/useNow'
import type { SignedIn } from '../frame/session'
import { StudentFrame } from './StudentFrame'
import type { Answers, Bodies } from '../contract'

export type SignUpListed = Answers['GET sign-ups'][number]

type SignUp = Answers['GET sign-ups/{setId}']

const FRESH = 5_000

/** Where students put themselves in a group: first come, first served. */
export default function SignUpPage({ person }: { readonly person: SignedIn }) {
  const { setId = '' } = useParams()
  const client = useQueryClient()
  const now = useNow(5_000)
  const key = ['sign-up', setId]
  const signUp = useQuery({
    queryKey: key,
    queryFn: () => api.get<SignUp>(`sign-ups/${setId}`),
    refetchInterval: FRESH,
  })
  const choose = useMutation({
    mutationFn: (groupId: string | null) =>
      api.post<SignUp>(`sign-ups/${setId}`, { groupId } satisfies Bodies['POST sign-ups/{setId}']),
    onSuccess: (found) => client.setQueryData(key, found),
    onSettled: async () => {
      await client.invalidateQueries({ queryKey: key })
      await client.invalidateQueries({ queryKey: ['sign-ups'] })
    },
  })
  return (
    <StudentFrame person={person}>
      <main className="sign-up">
        <p>
          <Link to="/">Back to my desk</Link>
        </p>
        <Loaded query={signUp}>
          {(found) => {
            const mine = found.groups.find(({ id }) => id === found.mine)
            return (
              <>
                <h1>{found.name}</h1>
                <p className="soft">
                  {found.class}
                  {found.state === 'open' && found.closesAt && ` · open until ${timeInWords(found.closesAt, now)}`}
                  {found.state === 'not yet' && found.opensAt && ` · opens ${timeInWords(found.opensAt, now)}`}
                  {(found.state === 'over' || found.state === 'closed') && ' · closed'}
                </p>
                <Notice kind={mine ? 'plain' : 'look'}>
                  {mine ? (
                    <>
                      You are in <strong>{mine.name}</strong>.{found.kept && ' Your teacher has put you there.'}
                    </>
                  ) : found.state === 'open' ? (
                    'Choose a group. You can change it as long as the sign-up is open.'
                  ) : (
                    'You are in no group.'
                  )}
                </Notice>
                {choose.error && <Notice kind="bad">{sentenceOf(choose.error)}</Notice>}
                <ul className="sign-up-groups">
                  {found.groups.map(({ id, name, places, people }) => {
                    const free = places === null ? null : Math.max(0, places - people.length)
                    const own = id === found.mine
                    return (
                      <li key={id} className={own ? 'own' : undefined}>
                        <div>
                          <h2>
                            <bdi>{name}</bdi>
                          </h2>
                          <span className={free === 0 && !own ? 'warn' : 'soft'}>
                            {free === null
                              ? `${people.length} in it`
                              : free === 0
                                ? 'full'
                                : `${free} ${free === 1 ? 'place' : 'places'} left of ${places}`}
                          </span>
                          {people.length > 0 && <p className="soft">{people.map(fullName).join(', ')}</p>}
                        </div>
                        {found.state === 'open' &&
                          !found.kept &&
                          (own ? (
                            <Button variant="link" disabled={choose.isPending} onClick={() => choose.mutate(null)}>
                              Leave
                            </Button>
                          ) : (
                            <Button
                              variant={mine ? 'outline-dark' : 'primary'}
                              disabled={free === 0 || choose.isPending}
                              aria-label={`Choose ${name}`}
                              onClick={() => choose.mutate(id)}
                            >
                              Choose
                            </Button>
                          ))}
                      </li>
                    )
                  })}
                </ul>
              </>
            )
          }}
        </Loaded>
      </main>
    </StudentFrame>
  )
}
