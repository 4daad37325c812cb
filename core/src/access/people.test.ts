import { describe, expect, test } from '@jest/globals'
import { emailProblem, mergeProblem, resetProblem, roleChangeProblem } from './office.js'
import { memberRole } from './school.js'
import { leadProblem, namedProblem, staffProblem, typedEmail } from './staff.js'

const IN_NONE = { student: false, staff: false }

describe('what somebody is in the school', () => {
  test.each([
    ['student', 'teacher', { student: true, staff: false }, 'This person is a student in a class'],
    ['student', 'office', { student: true, staff: false }, 'This person is a student in a class'],
    ['teacher', 'student', { student: false, staff: true }, 'This person is on the staff of a class'],
    ['teacher', 'office', { student: false, staff: true }, 'This person is on the staff of a class'],
  ] as const)('does not go from %s to %s while they are in a class', (from, to, inClasses, words) => {
    expect(roleChangeProblem(from, to, false, inClasses)).toMatchObject({
      field: 'role',
      sentence: expect.stringContaining(words),
    })
    expect(roleChangeProblem(from, to, false, IN_NONE)).toBeNull()
  })

  test('stays the same whatever they are in classes, and is changed by a colleague, not by oneself', () => {
    expect(roleChangeProblem('office', 'office', true, { student: false, staff: true })).toBeNull()
    expect(roleChangeProblem('office', 'teacher', true, IN_NONE)?.code).toBe('role-in-use')
    expect(roleChangeProblem('office', 'teacher', false, { student: false, staff: true })).toBeNull()
  })

  test('asks for an e-mail of the staff alone', () => {
    expect(emailProblem('student', '')).toBeNull()
    expect(emailProblem('office', '')?.field).toBe('email')
    expect(emailProblem('teacher', 't@fennickquay.example')).toBeNull()
  })

  test('a new password comes by mail to whoever has an address, on a card to students', () => {
    expect(resetProblem('card', { role: 'teacher', email: null })?.code).toBe('card-for-staff')
    expect(resetProblem('card', { role: 'student', email: null })).toBeNull()
    expect(resetProblem('mail', { role: 'student', email: null })?.code).toBe('no-email')
    expect(resetProblem('mail', { role: 'teacher', email: 't@fennickquay.example' })).toBeNull()
  })

  test('one person is made of two records of the same kind', () => {
    const one = { personId: 'p1', role: 'student' } as const
    expect(mergeProblem(one, one)?.code).toBe('same')
    expect(mergeProblem(one, { personId: 'p2', role: 'teacher' })?.code).toBe('other-role')
    expect(mergeProblem(one, { personId: 'p2', role: 'student' })).toBeNull()
  })
})

describe('the staff of a class', () => {
  const NO_NAME = { first: '', last: '' }
  const known = { role: 'teacher', name: 'Birgit Sandvik', isOnStaff: false } as const
  const EMAIL = 'sandvik@fennickquay.example'

  test('is joined by an e-mail: of a colleague, or with a name', () => {
    expect(staffProblem(EMAIL, known, NO_NAME)).toBeNull()
    expect(staffProblem(EMAIL, null, { first: '', last: 'Sandvik' })).toBeNull()
    expect(staffProblem(EMAIL, null, NO_NAME)).toMatchObject({ code: 'unknown-colleague', field: 'last' })
    expect(staffProblem('sandvik', known, NO_NAME)?.code).toBe('malformed-email')
    expect(staffProblem(EMAIL, { ...known, role: 'student' }, NO_NAME)?.code).toBe('email-of-student')
    expect(staffProblem(EMAIL, { ...known, isOnStaff: true }, NO_NAME)?.sentence).toContain('Birgit Sandvik')
  })

  test('an e-mail is taken without the spaces of a list', () => {
    expect(typedEmail(' sandvik @fennickquay.example  ')).toBe(EMAIL)
  })

  test('always has somebody who leads it', () => {
    expect(leadProblem('lead', 'Birgit Sandvik')?.code).toBe('lead-stays')
    expect(leadProblem('co-teacher', 'Birgit Sandvik')).toBeNull()
  })

  test('who helps named students has some', () => {
    expect(namedProblem('named helper', [])?.field).toBe('studentIds')
    expect(namedProblem('named helper', ['p1'])).toBeNull()
    expect(namedProblem('helper', [])).toBeNull()
  })

  test('who left was a student, or was nobody', () => {
    expect(memberRole('student', false)).toBe('student')
    expect(memberRole('student', true)).toBe('left')
    expect(memberRole('lead', true)).toBe('none')
    expect(memberRole('helper', false)).toBe('helper')
  })
})
