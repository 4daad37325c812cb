import { strToU8, zipSync } from 'fflate'
import Papa from 'papaparse'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { foldText } from '../roster/names.js'
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
        first: cell('preferredFirstName') || cell('givenName'),
        last: cell('preferredLastName') || cell('familyName'),
        email: cell('email') || (cell('username').includes('@') ? cell('username') : ''),
        number: cell('identifier'),
      },
      roles: new Set(row['role'] ? [row['role'].toLowerCase()] : []),
    })
  }
  for (const row of rowsOf('roles'))
    people.get(row['userSourcedId'] ?? '')?.roles.add((row['role'] ?? '').toLowerCase())

  const subjects = new Map(rowsOf('courses').map((row) => [row['sourcedId'], row['title'] ?? '']))
  const sessions = new Map(
    rowsOf('academicsessions').map((row) => [row['sourcedId'], row['schoolYear']?.trim() || row['title'] || '']),
  )
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
      year: sessions.get(term) ?? '',
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

/**
 * Writes classes as a rostering bundle, version 1.2.
 * @param today e.g. `2026-11-25`, put down as the day of the rows
 */
export function writeBundle(
  school: { readonly id: string; readonly name: string },
  classes: readonly BundleClass[],
  today: string,
): Uint8Array {
  const people = new Map<string, { person: BundlePerson; role: 'student' | 'teacher' }>()
  for (const { students, staff } of classes) {
    for (const person of students) people.set(person.id, { person, role: 'student' })
    for (const person of staff) people.set(person.id, { person, role: 'teacher' })
  }
  const years = [...new Set(classes.map(({ year }) => year))]
  const sessionId = (year: string) => `year-${years.indexOf(year) + 1}`
  const enrolments = classes.flatMap((given) => [
    ...given.staff.map((person) => ({ given, person, role: 'teacher' })),
    ...given.students.map((person) => ({ given, person, role: 'student' })),
  ])
  const stamp = ['active', `${today}T00:00:00.000Z`]
  const file = (rows: readonly (readonly string[])[]) => strToU8(writeCsv(rows))
  return zipSync({
    'manifest.csv': file([
      ['propertyName', 'value'],
      ['manifest.version', '1.0'],
      ['oneroster.version', '1.2'],
      ['file.academicSessions', 'bulk'],
      ['file.classes', 'bulk'],
      ['file.courses', 'absent'],
      ['file.enrollments', 'bulk'],
      ['file.orgs', 'bulk'],
      ['file.roles', 'bulk'],
      ['file.users', 'bulk'],
      ['source.systemName', 'Gavrin'],
      ['source.systemCode', 'gavrin'],
    ]),
    'orgs.csv': file([
      ['sourcedId', 'status', 'dateLastModified', 'name', 'type', 'identifier', 'parentSourcedId'],
      [school.id, ...stamp, school.name, 'school', '', ''],
    ]),
    'academicSessions.csv': file([
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'title',
        'type',
        'startDate',
        'endDate',
        'parentSourcedId',
        'schoolYear',
      ],
      ...years.map((year) => [sessionId(year), ...stamp, year, 'schoolYear', '', '', '', year]),
    ]),
    'classes.csv': file([
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'title',
        'grades',
        'courseSourcedId',
        'classCode',
        'classType',
        'location',
        'schoolSourcedId',
        'termSourcedIds',
        'subjects',
      ],
      ...classes.map(({ id, name, subject, year }) => [
        id,
        ...stamp,
        name,
        '',
        '',
        name,
        'scheduled',
        '',
        school.id,
        sessionId(year),
        subject,
      ]),
    ]),
    'users.csv': file([
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'enabledUser',
        'username',
        'givenName',
        'familyName',
        'identifier',
        'email',
      ],
      ...[...people.values()].map(({ person }) => [
        person.id,
        ...stamp,
        'true',
        person.email || person.id,
        person.first,
        person.last,
        person.number,
        person.email,
      ]),
    ]),
    'roles.csv': file([
      ['sourcedId', 'status', 'dateLastModified', 'userSourcedId', 'roleType', 'role', 'orgSourcedId'],
      ...[...people.values()].map(({ person, role }) => [
        `role-${person.id}`,
        ...stamp,
        person.id,
        'primary',
        role,
        school.id,
      ]),
    ]),
    'enrollments.csv': file([
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'classSourcedId',
        'schoolSourcedId',
        'userSourcedId',
        'role',
        'primary',
      ],
      ...enrolments.map(({ given, person, role }, at) => [
        `enrolment-${at + 1}`,
        ...stamp,
        given.id,
        school.id,
        person.id,
        role,
        role === 'teacher' && given.staff[0] === person ? 'true' : 'false',
      ]),
    ]),
  })
}
