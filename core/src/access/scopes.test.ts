import { describe, expect, test } from '@jest/globals'
import { scopeFor } from './scopes.js'

describe('what a token is for', () => {
  test.each<[string, string, string | null]>([
    ['GET', 'classes', 'read'],
    ['GET', 'handouts/1/board', 'read'],
    ['POST', 'handouts/1/board/out/csv', 'read'],
    ['POST', 'handouts/1/reminders/proof', 'read'],
    ['POST', 'handouts/1/reminders', 'copies'],
    ['PUT', 'handouts/1/marks', 'copies'],
    ['POST', 'handouts/1/hand-back/proof', 'read'],
    ['POST', 'handouts/1/hand-back', 'copies'],
    ['PUT', 'classes/1/mark-book/rules', null],
    ['POST', 'handouts/1/hand-out', 'hand out'],
    ['POST', 'classes/1/handouts', 'hand out'],
    ['POST', 'classes/1/roster', 'rosters'],
    ['PUT', 'group-sets/1', 'rosters'],
    ['POST', 'classes', 'rosters'],
    ['PUT', 'worksheets/1/draft', 'worksheets'],
    ['PUT', 'copies/1/comments/2', 'copies'],
    ['DELETE', 'saved-copies/1', 'hand out'],
  ])('%s %s is %s', (method, path, scope) => expect(scopeFor(method, path)).toBe(scope))

  test.each<[string, string]>([
    ['PUT', 'account/password'],
    ['GET', 'account/calendar'],
    ['POST', 'session'],
    ['DELETE', 'session'],
    ['GET', 'office/people'],
    ['POST', 'tokens'],
    ['GET', 'webhooks'],
    ['POST', 'classes/1/staff'],
    ['POST', 'classes/1/sign-in-cards'],
    ['POST', 'classes/1/archive'],
    ['POST', 'classes/1/join/decide'],
    ['POST', 'something/new'],
  ])('no token is for %s %s', (method, path) => expect(scopeFor(method, path)).toBeNull())
})
