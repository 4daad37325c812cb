import { type Outcome, fine, refuse } from '../errors/problem.js'
import { foldText } from '../roster/names.js'

export const PASSWORD_LEAST = 10
export const PASSWORD_MOST = 200

// The head of every list of passwords that were given away (NIST SP 800-63B, 5.1.1.2: length, and none that is expected).
const EXPECTED = ['1234567890', 'password', 'passwort', 'qwertyuiop', 'qwertzuiop', 'letmein', 'iloveyou', 'welcome']

/**
 * Whether somebody may choose this password. Only what can be guessed is refused: what is short, expected, one sign over and
 * over, or made of the person's own name or address. No rule asks for signs of certain kinds.
 * @param own names and addresses of the person
 */
export function checkPassword(password: string, own: readonly string[]): Outcome<string> {
  const wrong = (sentence: string) => refuse({ code: 'weak-password', field: 'password', sentence })
  const length = [...password].length
  if (length < PASSWORD_LEAST)
    return wrong(`Take at least ${PASSWORD_LEAST} characters: three or four words are good and easy to keep in mind.`)
  if (length > PASSWORD_MOST) return wrong(`A password has up to ${PASSWORD_MOST} characters.`)
  const folded = foldText(password)
  if (new Set(folded).size < 4) return wrong('This is the same few signs over and over: take something else.')
  const bare = folded.replace(/[\d\W_]+$/u, '').replace(/^[\d\W_]+/u, '')
  if (EXPECTED.some((word) => folded.includes(word) && folded.length < word.length + 6))
    return wrong('This is one of the first that are tried by others: take something else.')
  const names = own.flatMap((text) => [foldText(text), foldText(text).split('@')[0]!]).filter((name) => name.length > 2)
  if (names.some((name) => name === folded || name === bare))
    return wrong('This is your own name or e-mail: take something else.')
  return fine(password)
}
