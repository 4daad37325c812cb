import { randomInt } from 'node:crypto'
import { type DataSource, type EntityManager, Any } from 'typeorm'
import { hashPassword } from './signIn.service.js'
import { inSchool } from '../database/inSchool.js'
import { Person } from '../access/access.entity.js'
import { cardPeople, setPasswords, setPasswordOf, newestClassOf, nextCardNumber } from './account.queries.js'

/** What a student needs to sign in for the first time, to be printed and cut. */
export interface SignInCard {
  readonly personId: string
  readonly first: string
  readonly last: string
  /** The e-mail, or for who has none the class code with a number. */
  readonly signInName: string
  readonly password: string
}

// Easy to read out and to type: no letters that look like digits, none that only some keyboards have.
const LETTERS = 'abcdefghkmnpqrstuwxyz'
const DIGITS = '23456789'

/** Three groups of four characters: about 50 bits. */
function startPassword(): string {
  const pick = (from: string, count: number) =>
    Array.from({ length: count }, () => from[randomInt(from.length)]).join('')
  return `${pick(LETTERS, 4)}-${pick(LETTERS, 4)}-${pick(DIGITS, 4)}`
}

/**
 * Gives a start password to students of a class who have none yet; a student without an e-mail also gets a name to sign in
 * with, made of the class code and a number. Passwords are shown this once; only their hashes are kept. A password that there
 * is already is replaced only for students without an e-mail who are named: they have no other way to a new one.
 * @param personIds only these; null: everybody who cannot sign in yet
 */
export async function makeSignInCards(
  source: DataSource,
  schoolId: string,
  classId: string,
  personIds: readonly string[] | null,
): Promise<SignInCard[]> {
  const students = await cardPeople(source, schoolId, classId, personIds)
  const cards = students.map((student) => ({ ...student, password: startPassword() }))
  const hashes = await Promise.all(cards.map(({ password }) => hashPassword(password)))
  return source.transaction(async (tx) => {
    const given = await setPasswords(tx, schoolId, {
      ids: cards.map(({ personId }) => personId),
      hashes,
      before: cards.map(({ had }) => had),
    })
    const done = new Set(given.map(({ id }) => id))
    const names = await signInNames(tx, schoolId, classId, [...done])
    return cards.flatMap(({ personId, first, last, password }) =>
      done.has(personId) ? [{ personId, first, last, password, signInName: names.get(personId)! }] : [],
    )
  })
}

/** A new card for one student, whatever password there was. */
export async function newCard(tx: EntityManager, schoolId: string, personId: string): Promise<SignInCard> {
  const password = startPassword()
  const rows = await setPasswordOf(tx, schoolId, personId, await hashPassword(password))
  const [member] = await newestClassOf(tx, schoolId, personId)
  const names = await signInNames(tx, schoolId, member?.class_id ?? null, [personId])
  return { personId, ...rows[0]!, password, signInName: names.get(personId) ?? '' }
}

/** What people sign in with; who has neither an e-mail nor a card name is given one out of the code of the class. */
async function signInNames(
  tx: EntityManager,
  schoolId: string,
  classId: string | null,
  personIds: readonly string[],
): Promise<Map<string, string>> {
  const people = await inSchool(tx, schoolId).find(
    Person,
    { id: Any(personIds) },
    { select: ['id', 'email', 'cardName'], order: { last: 'ASC', first: 'ASC' } },
  )
  const names = new Map<string, string>()
  for (const { id, email, cardName } of people) {
    let name = email ?? cardName
    if (!name && classId) {
      const rows = await nextCardNumber(tx, schoolId, classId)
      name = `${rows[0]!.code}-${String(rows[0]!.number).padStart(2, '0')}`
      await inSchool(tx, schoolId).update(Person, { id }, { cardName: name })
    }
    names.set(id, name ?? '')
  }
  return names
}
