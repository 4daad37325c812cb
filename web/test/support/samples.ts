import type { PlanFacts } from '@gavrin/core'
import type { ClassListed, ClassOpened } from '../../src/class/queries'

/** A class as a list of classes has it. */
export const classListed = (id: string, name: string, more: Partial<ClassListed> = {}): ClassListed => ({
  id,
  name,
  subject: 'Geography',
  year: '2026/27',
  ink: 'plum',
  role: 'lead',
  archived: false,
  students: 28,
  ...more,
})

/** A class as its page has it, without anything in it. */
export const classOpened = (more: Partial<ClassOpened> = {}): ClassOpened => {
  const { students: _, ...named } = classListed('k', '8 Heron')
  return {
    ...named,
    role: 'lead',
    staff: [],
    units: [],
    columns: [],
    classmatesComment: true,
    staffShown: true,
    helpersMark: false,
    carriedFrom: null,
    ...more,
  }
}

/** A student as a plan has them, with what stands in the column `k1`. */
export const planMember = (
  personId: string,
  last: string,
  first: string,
  band: string,
  email: string | null = null,
) => ({
  personId,
  last,
  first,
  email,
  cells: { k1: band },
})

/** What slips in a class of three students are planned from. */
export const planFactsOf = (more: Partial<Omit<PlanFacts, 'worksheets'>> = {}): Omit<PlanFacts, 'worksheets'> => ({
  classId: 'c1',
  className: '8 Heron',
  number: 12,
  members: [
    planMember('p1', 'Abara', 'Chidi', 'Gulls', 'p1@fennickquay.example'),
    planMember('p2', 'Rossi', 'Giulia', 'Terns', 'p2@fennickquay.example'),
    planMember('p3', 'Suryani', '', 'Gulls'),
  ],
  guests: [],
  ownCopies: [],
  columns: [{ id: 'k1', name: 'Reading band' }],
  groupSets: [{ id: 's1', name: 'Crews', groups: [{ id: 'g1', name: 'Crane', personIds: ['p1', 'p2'] }] }],
  units: [{ id: 'u1', name: 'Tides' }],
  staff: [],
  begunAt: 0,
  timeZone: 'UTC',
  locale: 'en-GB',
  ...more,
})
