import { alike } from '../groups/twins.js'
import { emailKey } from './email.js'
import { findForm } from './find.js'
import { type PersonName, fullName } from './names.js'

/** Somebody who may be the same person. */
export interface PersonTwin<T> {
  readonly person: T
  readonly reason: 'the same e-mail' | 'the same name' | 'nearly the same name'
}

const wordsOf = (name: PersonName) => findForm(`${name.first} ${name.last}`).split(' ').toSorted().join(' ')

/**
 * Who of the people known may be this one: by e-mail, by name in either order, or by a name that one slip of the pen tells
 * apart. The surest comes first.
 */
export function personTwins<T extends PersonName & { readonly email: string | null }>(
  one: PersonName & { readonly email: string | null },
  known: readonly T[],
): PersonTwin<T>[] {
  const order: readonly PersonTwin<T>['reason'][] = ['the same e-mail', 'the same name', 'nearly the same name']
  return known
    .flatMap((person): PersonTwin<T>[] => {
      if (one.email && person.email && emailKey(one.email) === emailKey(person.email))
        return [{ person, reason: 'the same e-mail' }]
      if (wordsOf(one) === wordsOf(person)) return [{ person, reason: 'the same name' }]
      const near = alike(fullName(one), fullName(person)) ?? alike(`${one.last} ${one.first}`, fullName(person))
      return near ? [{ person, reason: 'nearly the same name' }] : []
    })
    .toSorted((a, b) => order.indexOf(a.reason) - order.indexOf(b.reason))
}
