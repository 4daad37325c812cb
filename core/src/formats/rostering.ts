import { strToU8, zipSync } from 'fflate'
import Papa from 'papaparse'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { foldText } from '../roster/names.js'
import { schoolYearDates, schoolYearName } from '../roster/schoolYear.js'
import { MANIFEST_FILES, rosteringRows } from './rosteringModel.js'
import { plainCell, writeCsv } from './table.js'
import { decodeText } from './text.js'
import { unzipWithin } from './zip.js'

// The open rostering CSV binding (1EdTech OneRoster 1.1 and 1.2): a zip of CSV files with fixed headings. What is read and
// written here is bulk data; rows marked "tobedeleted" are passed over.

/** A person of a bundle. */
export interface BundlePerson {
  readonly id: string
  readonly first: string
  readonly last: string
  readonly email: string
  readonly number: string
}

/** A class of a bundle with who is in it. */
export interface BundleClass {
  readonly id: string
  readonly name: string
  readonly subject: string
  /** The school year, from the academic session; empty if it names none. */
  readonly year: string
  readonly students: BundlePerson[]
  readonly staff: BundlePerson[]
}

/** What a bundle holds of use here. */
export interface RosterBundle {
  readonly school: string
  readonly classes: BundleClass[]
  /** What could not be carried over, a sentence each. */
  readonly notes: string[]
}

type Row = Readonly<Record<string, string>>

const WANTED = ['users', 'roles', 'classes', 'enrollments', 'orgs', 'academicsessions', 'courses']
const ROW_LIMIT = 200_000

const baseName = (path: string) =>
  path
    .slice(path.lastIndexOf('/') + 1)
    .replace(/\.csv$/i, '')
    .toLowerCase()

/** Whether the names in an archive are those of a rostering bundle. */
export const isBundle = (names: readonly string[]): boolean => {
  const bases = names.map(baseName)
  return ['users', 'classes', 'enrollments'].every((wanted) => bases.includes(wanted))
}

/** Reads a rostering bundle into its classes. */
export function readBundle(bytes: Uint8Array): Outcome<RosterBundle> {
  const files = unzipWithin(bytes, (name) => /\.csv$/i.test(name) && WANTED.includes(baseName(name)))
  if (!files.ok) return files
  const tables = new Map<string, Row[]>()
  for (const [name, content] of Object.entries(files.value)) {
    const { data } = Papa.parse<Row>(decodeText(content).text.replace(/^\uFEFF/, ''), {
      header: true,
      skipEmptyLines: 'greedy',
      preview: ROW_LIMIT,
      transformHeader: (heading) => heading.trim(),
    })
    tables.set(baseName(name), data)
  }
  const rowsOf = (table: string) =>
    (tables.get(table) ?? []).filter((row) => (row['status'] ?? '').toLowerCase() !== 'tobedeleted')
  const people = new Map<string, { person: BundlePerson; roles: Set<string> }>()
  for (const row of rowsOf('users')) {
    const id = row['sourcedId']?.trim()
    if (!id) continue
    const cell = (name: string) => plainCell((row[name] ?? '').trim())
    people.set(id, {
      person: {
        id,
        first: cell('preferredGivenName') || cell('preferredFirstName') || cell('givenName'),
        last: cell('preferredFamilyName') || cell('preferredLastName') || cell('familyName'),
        email: cell('email') || (cell('username').includes('@') ? cell('username') : ''),
        number: cell('identifier'),
      },
      roles: new Set(row['role'] ? [row['role'].toLowerCase()] : []),
    })
  }
  for (const row of rowsOf('roles'))
    people.get(row['userSourcedId'] ?? '')?.roles.add((row['role'] ?? '').toLowerCase())

  const subjects = new Map(rowsOf('courses').map((row) => [row['sourcedId'], row['title'] ?? '']))
  const sessions = new Map(rowsOf('academicsessions').map((row) => [row['sourcedId'] ?? '', row]))
  /** The school year of a session as schools write it; that of the session it is part of, if that is a year. */
  const yearOf = (id: string, depth = 0): string => {
    const session = sessions.get(id)
    if (!session) return ''
    const parent = session['parentSourcedId']?.trim()
    const isYear = (session['type'] ?? '') === 'schoolYear'
    if (!isYear && parent && depth < 5 && sessions.has(parent)) return yearOf(parent, depth + 1)
    const [start, end] = [session['startDate'] ?? '', session['endDate'] ?? '']
    const ends = session['schoolYear']?.trim() ?? ''
    // Part of a year begins and ends in one: only the year it is of tells.
    return schoolYearName(isYear ? start : '', isYear && end ? end : ends) || session['title'] || ''
  }
  const notes: string[] = []
  const classes = new Map<string, BundleClass>()
  for (const row of rowsOf('classes')) {
    const id = row['sourcedId']?.trim()
    if (!id) continue
    const term = (row['termSourcedIds'] ?? '').split(',')[0]!.trim()
    classes.set(id, {
      id,
      name: plainCell((row['title'] || row['classCode'] || id).trim()),
      subject: plainCell((row['subjects'] || subjects.get(row['courseSourcedId'] ?? '') || '').split(',')[0]!.trim()),
      year: yearOf(term),
      students: [],
      staff: [],
    })
  }
  let lost = 0
  for (const row of rowsOf('enrollments')) {
    const into = classes.get((row['classSourcedId'] ?? '').trim())
    const found = people.get((row['userSourcedId'] ?? '').trim())
    if (!into || !found) {
      lost++
      continue
    }
    const role = foldText(row['role'] ?? '')
    if (role === 'student') into.students.push(found.person)
    else if (role === 'teacher' || role === 'aide' || role === 'proctor') into.staff.push(found.person)
  }
  if (lost)
    notes.push(
      `${lost} ${lost === 1 ? 'enrolment names' : 'enrolments name'} a person or a class that is not in the bundle.`,
    )
  if (classes.size === 0)
    return refuse({ code: 'bundle-empty', field: 'file', sentence: 'This rostering bundle holds no class.' })
  return fine({ school: rowsOf('orgs')[0]?.['name'] ?? '', classes: [...classes.values()], notes })
}

/** Something that was marked in a class. */
export interface BundleMarked {
  readonly id: string
  readonly classId: string
  readonly title: string
  /** What it is of: a unit, say; empty: it is of none. */
  readonly unit: string
  /** Days, e.g. `2026-11-25`. */
  readonly given: string
  readonly due: string
  /** Points. */
  readonly most: number
}

/** What somebody has for something that was marked. */
export interface BundleResult {
  readonly markedId: string
  readonly studentId: string
  readonly status: 'fully graded' | 'exempt' | 'not submitted'
  /** Points; null: none. */
  readonly score: number | null
  /** The day on which it was marked. */
  readonly day: string
}

/** The marks of classes. */
export interface BundleMarks {
  readonly marked: readonly BundleMarked[]
  readonly results: readonly BundleResult[]
}

/**
 * Writes classes as a rostering bundle, version 1.2, with their marks where these are given.
 * @param today e.g. `2026-11-25`: whose school year it is where a class names none
 */
export function writeBundle(
  school: { readonly id: string; readonly name: string },
  classes: readonly BundleClass[],
  today: string,
  marks: BundleMarks | null = null,
): Uint8Array {
  const people = new Map<string, { person: BundlePerson; role: 'student' | 'teacher' }>()
  for (const { students, staff } of classes) {
    for (const person of students) people.set(person.id, { person, role: 'student' })
    for (const person of staff) people.set(person.id, { person, role: 'teacher' })
  }
  const years = [...new Set(classes.map(({ year }) => year))]
  const sessionId = (year: string) => `year-${years.indexOf(year) + 1}`
  // A class is held in a course: of its subject, in its year.
  const courses = [...new Map(classes.map(({ subject, year }) => [`${year}\n${subject}`, { subject, year }])).values()]
  const courseId = ({ subject, year }: { subject: string; year: string }) =>
    `course-${courses.findIndex((course) => course.subject === subject && course.year === year) + 1}`
  const enrolments = classes.flatMap((given) => [
    ...given.staff.map((person) => ({ given, person, role: 'teacher' })),
    ...given.students.map((person) => ({ given, person, role: 'student' })),
  ])
  // A list of texts: a comma would part one.
  const inList = (text: string) => text.replaceAll(',', ' ')
  const tables = {
    orgs: [{ sourcedId: school.id, name: school.name, type: 'school' }],
    academicSessions: years.map((year) => {
      const { start, end, ends } = schoolYearDates(year, today)
      const title = year || schoolYearName(start, end)
      return { sourcedId: sessionId(year), title, type: 'schoolYear', startDate: start, endDate: end, schoolYear: ends }
    }),
    courses: courses.map((course) => ({
      sourcedId: courseId(course),
      schoolYearSourcedId: sessionId(course.year),
      title: course.subject || 'Class',
      orgSourcedId: school.id,
      subjects: inList(course.subject),
    })),
    classes: classes.map((given) => ({
      sourcedId: given.id,
      title: given.name,
      courseSourcedId: courseId(given),
      classCode: given.name,
      classType: 'scheduled',
      schoolSourcedId: school.id,
      termSourcedIds: sessionId(given.year),
      subjects: inList(given.subject),
    })),
    users: [...people.values()].map(({ person }) => ({
      sourcedId: person.id,
      enabledUser: 'true',
      username: person.email || person.id,
      // Both must be there; who has one name has it in both places.
      givenName: person.first || person.last,
      familyName: person.last || person.first,
      identifier: person.number,
      email: person.email,
      primaryOrgSourcedId: school.id,
    })),
    roles: [...people.values()].map(({ person, role }) => ({
      sourcedId: `role-${person.id}`,
      userSourcedId: person.id,
      roleType: 'primary',
      role,
      orgSourcedId: school.id,
    })),
    enrollments: enrolments.map(({ given, person, role }, at) => ({
      sourcedId: `enrolment-${at + 1}`,
      classSourcedId: given.id,
      schoolSourcedId: school.id,
      userSourcedId: person.id,
      role,
      primary: role === 'teacher' && given.staff[0] === person ? 'true' : 'false',
    })),
  }
  const yearOf = new Map(classes.map(({ id, year }) => [id, sessionId(year)]))
  const units = [...new Set((marks?.marked ?? []).map(({ unit }) => unit))]
  const unitId = (unit: string) => `category-${units.indexOf(unit) + 1}`
  const results = marks && {
    categories: units.map((unit) => ({ sourcedId: unitId(unit), title: unit || 'Handouts' })),
    lineItems: marks.marked.map((one) => ({
      sourcedId: one.id,
      title: one.title,
      assignDate: one.given,
      dueDate: one.due,
      classSourcedId: one.classId,
      categorySourcedId: unitId(one.unit),
      gradingPeriodSourcedId: yearOf.get(one.classId)!,
      resultValueMin: '0',
      resultValueMax: String(one.most),
      schoolSourcedId: school.id,
    })),
    results: marks.results.map(({ markedId, studentId, status, score, day }) => ({
      sourcedId: `${markedId}:${studentId}`,
      lineItemSourcedId: markedId,
      studentSourcedId: studentId,
      scoreStatus: status,
      score: score === null ? '' : String(score),
      scoreDate: day,
    })),
  }
  const written = { ...tables, ...results }
  const file = (rows: readonly (readonly string[])[]) => strToU8(writeCsv(rows))
  const files = Object.entries(written) as [keyof typeof written, Record<string, string>[]][]
  return zipSync({
    'manifest.csv': file([
      ['propertyName', 'value'],
      ['manifest.version', '1.0'],
      ['oneroster.version', '1.2'],
      ...MANIFEST_FILES.map((name) => [`file.${name}`, name in written ? 'bulk' : 'absent']),
      ['source.systemName', 'Gavrin'],
      ['source.systemCode', 'gavrin'],
    ]),
    ...Object.fromEntries(files.map(([name, rows]) => [`${name}.csv`, file(rosteringRows(name, rows))])),
  })
}
