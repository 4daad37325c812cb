import { expect, test } from '@jest/globals'
import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import ts from 'typescript'

const SOURCE = fileURLToPath(new URL('../src', import.meta.url))
const files = readdirSync(SOURCE, { recursive: true })
  .map(String)
  .filter((file) => file.endsWith('.ts') && !file.includes('migrations/'))
const isQueries = (file: string) => file.endsWith('.queries.ts')

/** A call that asks in SQL: who asks, with what text, and how many values come after the text. */
interface Asking {
  readonly where: string
  readonly way: string
  readonly sql: string
  readonly values: number | null
}

function askingIn(file: string): Asking[] {
  const text = readFileSync(join(SOURCE, file), 'utf8')
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true)
  const found: Asking[] = []
  const visit = (node: ts.Node, within: string): void => {
    const name =
      (ts.isFunctionDeclaration(node) || ts.isMethodDeclaration(node)) && node.name ? node.name.getText() : ''
    const isArrow =
      ts.isVariableDeclaration(node) && node.initializer !== undefined && ts.isArrowFunction(node.initializer)
    const inside = name || (isArrow ? node.name.getText() : within)
    if (
      ts.isCallExpression(node) &&
      ts.isPropertyAccessExpression(node.expression) &&
      ['rows', 'write', 'query'].includes(node.expression.name.text) &&
      node.arguments[0] &&
      (ts.isStringLiteral(node.arguments[0]) || ts.isTemplateLiteral(node.arguments[0]))
    ) {
      const [sql, ...values] = node.arguments
      found.push({
        where: `${file}: ${inside}`,
        way: node.expression.expression.getText().replace(/\s+/g, ' '),
        sql: sql.getText(),
        values: values.some(ts.isSpreadElement) ? null : values.length,
      })
    }
    node.forEachChild((child) => visit(child, inside))
  }
  visit(source, '')
  return found
}

const asking = files.filter((file) => !file.startsWith('database/')).flatMap(askingIn)
const isAny = ({ way }: Asking) => way.startsWith('anySchool(')

test('SQL stands in the files of queries, each module its own', () => {
  const elsewhere = asking.filter(({ where }) => !isQueries(where.split(':')[0]!))
  expect(elsewhere.map(({ where }) => where)).toEqual([
    // A lock of a connection of its own, of no school.
    'onlyProcess.ts: take',
  ])
  expect(asking.length).toBeGreaterThan(150)
})

test('what asks within a school says so: its first value is the school', () => {
  // A condition that several have stands under a name; it begins with the school.
  const within = ({ sql }: Asking) =>
    /school_id\b[^;]*\$1|\$1[^;]*school_id|SELECT \$1|\$\{(SEEN_BY_VIEWER|OF_SCHOOL|OLD|SAID)\}/.test(sql)
  expect(asking.filter((one) => isQueries(one.where.split(':')[0]!) && !isAny(one) && !within(one))).toEqual([])
})

test('as many values are given as a text has places for', () => {
  const wrong = asking.filter(({ sql, values, way }) => {
    const places = Math.max(0, ...[...sql.matchAll(/\$(\d+)/g)].map(([, place]) => Number(place)))
    if (values === null || way.startsWith('client')) return false
    const isNamed = /\$\{(?!ms\()/.test(sql)
    return isNamed ? values + 1 < places : values + (way.startsWith('anySchool(') ? 0 : 1) !== places
  })
  expect(wrong).toEqual([])
})

test('who asks in all schools is known', () => {
  expect([...new Set(asking.filter(isAny).map(({ where }) => where))].sort()).toEqual([
    // Strangers, known by what they type, by the code or the link they have, or by where they come from.
    'access/access.queries.ts: attemptsOf',
    'access/access.queries.ts: forgetOldAttempts',
    'access/access.queries.ts: useToken',
    'account/account.queries.ts: candidatesFor',
    'account/account.queries.ts: failuresOf',
    'account/account.queries.ts: forgetFailures',
    'account/account.queries.ts: forgetOldFailures',
    'account/account.queries.ts: peopleOfAddress',
    // By the clock, to whoever asked to be told.
    'automation/automation.queries.ts: takeWebhooks',
    'calendar/calendar.queries.ts: personOfAddress',
    // A trigger is of no school.
    'demo/demo.queries.ts: giveInThePast',
    // Work of the server for all schools, each row with its school.
    'handOut/run.queries.ts: looksAfter',
    'handOut/run.queries.ts: wishLooks',
    'handOut/run.queries.ts: wishLooksAtOld',
    'handout/walkIn.queries.ts: linkByCode',
    'join/join.queries.ts: classByCode',
    'kept/spaces.queries.ts: appendTo',
    'kept/spaces.queries.ts: fencedCopies',
    'live/live.queries.ts: copiesUncounted',
    'live/live.queries.ts: writeProgress',
    // Jobs, and mails kept for trying out.
    'mail/mail.queries.ts: dropJobs',
    'mail/mail.queries.ts: dropOldStandInMail',
    'mail/mail.queries.ts: isLastTryOf',
    'mail/mail.queries.ts: linkByToken',
    // By the clock, in all schools.
    'marking/marking.queries.ts: backDue',
    'pens/pens.queries.ts: enterPensThatWentDown',
    // What the database itself knows.
    'people/people.queries.ts: collationNames',
    // By the clock, in all schools.
    'reminder/reminder.queries.ts: dueSoon',
    'savedCopies/savedCopies.queries.ts: dropOldSaved',
    'savedCopies/savedCopies.queries.ts: nextToSave',
  ])
})
