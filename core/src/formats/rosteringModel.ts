import Papa from 'papaparse'
import { decodeText } from './text.js'
import { unzipWithin } from './zip.js'

// The data model of the open rostering CSV binding, version 1.2 (1EdTech OneRoster 1.2, CSV Binding, chapters 3 and 4), as far as
// bulk rostering data goes: which files, which columns in which order, what may stand in them, and what they point to.

/** What may stand in a column. */
type Kind =
  | 'id'
  | 'text'
  | 'texts'
  | 'date'
  | 'year'
  | 'truth'
  | 'number'
  /** Blank in bulk data. */
  | 'blank'
  /** Pairs of a type and an id in curly brackets. */
  | 'pairs'
  | { readonly of: readonly string[] }
  | { readonly to: File; readonly many?: true }

interface Column {
  readonly name: string
  readonly is: Kind
  readonly required?: true
}

type File =
  | 'academicSessions'
  | 'categories'
  | 'classes'
  | 'courses'
  | 'enrollments'
  | 'lineItems'
  | 'orgs'
  | 'results'
  | 'roles'
  | 'userProfiles'
  | 'users'

const column = (name: string, is: Kind, required?: true): Column => ({ name, is, ...(required && { required }) })
const HEAD = [column('sourcedId', 'id', true), column('status', 'blank'), column('dateLastModified', 'blank')]
const GRADES = column('grades', 'texts')

/** The columns of each file, in the order in which they stand. */
export const ROSTERING_FILES: Readonly<Record<File, readonly Column[]>> = {
  academicSessions: [
    ...HEAD,
    column('title', 'text', true),
    column('type', { of: ['gradingPeriod', 'semester', 'schoolYear', 'term'] }, true),
    column('startDate', 'date', true),
    column('endDate', 'date', true),
    column('parentSourcedId', { to: 'academicSessions' }),
    column('schoolYear', 'year', true),
  ],
  categories: [...HEAD, column('title', 'text', true), column('weight', 'number')],
  classes: [
    ...HEAD,
    column('title', 'text', true),
    GRADES,
    column('courseSourcedId', { to: 'courses' }, true),
    column('classCode', 'text'),
    column('classType', { of: ['homeroom', 'scheduled'] }, true),
    column('location', 'text'),
    column('schoolSourcedId', { to: 'orgs' }, true),
    column('termSourcedIds', { to: 'academicSessions', many: true }, true),
    column('subjects', 'texts'),
    column('subjectCodes', 'texts'),
    column('periods', 'texts'),
  ],
  courses: [
    ...HEAD,
    column('schoolYearSourcedId', { to: 'academicSessions' }),
    column('title', 'text', true),
    column('courseCode', 'text'),
    GRADES,
    column('orgSourcedId', { to: 'orgs' }, true),
    column('subjects', 'texts'),
    column('subjectCodes', 'texts'),
  ],
  enrollments: [
    ...HEAD,
    column('classSourcedId', { to: 'classes' }, true),
    column('schoolSourcedId', { to: 'orgs' }, true),
    column('userSourcedId', { to: 'users' }, true),
    column('role', { of: ['administrator', 'proctor', 'student', 'teacher'] }, true),
    column('primary', 'truth'),
    column('beginDate', 'date'),
    column('endDate', 'date'),
  ],
  lineItems: [
    ...HEAD,
    column('title', 'text', true),
    column('description', 'text'),
    column('assignDate', 'date', true),
    column('dueDate', 'date', true),
    column('classSourcedId', { to: 'classes' }, true),
    column('categorySourcedId', { to: 'categories' }, true),
    column('gradingPeriodSourcedId', { to: 'academicSessions' }),
    column('resultValueMin', 'number'),
    column('resultValueMax', 'number'),
    column('schoolSourcedId', { to: 'orgs' }, true),
  ],
  orgs: [
    ...HEAD,
    column('name', 'text', true),
    column('type', { of: ['department', 'school', 'district', 'local', 'state', 'national'] }, true),
    column('identifier', 'text'),
    column('parentSourcedId', { to: 'orgs' }),
  ],
  results: [
    ...HEAD,
    column('lineItemSourcedId', { to: 'lineItems' }, true),
    column('studentSourcedId', { to: 'users' }, true),
    column('scoreStatus', { of: ['exempt', 'fully graded', 'not submitted', 'partially graded', 'submitted'] }, true),
    column('score', 'number'),
    column('textScore', 'text'),
    column('scoreDate', 'date', true),
    column('comment', 'text'),
  ],
  roles: [
    ...HEAD,
    column('userSourcedId', { to: 'users' }, true),
    column('roleType', { of: ['primary', 'secondary'] }, true),
    column(
      'role',
      {
        of: [
          'aide',
          'counselor',
          'districtAdministrator',
          'guardian',
          'parent',
          'principal',
          'proctor',
          'relative',
          'siteAdministrator',
          'student',
          'systemAdministrator',
          'teacher',
        ],
      },
      true,
    ),
    column('beginDate', 'date'),
    column('endDate', 'date'),
    column('orgSourcedId', { to: 'orgs' }, true),
    column('userProfileSourcedId', { to: 'userProfiles' }),
  ],
  userProfiles: [
    ...HEAD,
    column('userSourcedId', { to: 'users' }, true),
    column('profileType', 'text', true),
    column('vendorId', 'text', true),
    column('applicationId', 'text'),
    column('description', 'text'),
    column('credentialType', 'text', true),
    column('username', 'text', true),
    column('password', 'text'),
  ],
  users: [
    ...HEAD,
    column('enabledUser', 'truth', true),
    column('username', 'text', true),
    column('userIds', 'pairs'),
    column('givenName', 'text', true),
    column('familyName', 'text', true),
    column('middleName', 'text'),
    column('identifier', 'text'),
    column('email', 'text'),
    column('sms', 'text'),
    column('phone', 'text'),
    column('agentSourcedIds', { to: 'users', many: true }),
    GRADES,
    column('password', 'text'),
    column('userMasterIdentifier', 'text'),
    column('resourceSourcedIds', 'texts'),
    column('preferredGivenName', 'text'),
    column('preferredMiddleName', 'text'),
    column('preferredFamilyName', 'text'),
    column('primaryOrgSourcedId', { to: 'orgs' }),
    column('pronouns', 'text'),
  ],
}

/** All files that a manifest speaks of. */
export const MANIFEST_FILES = [
  'academicSessions',
  'categories',
  'classes',
  'classResources',
  'courses',
  'courseResources',
  'demographics',
  'enrollments',
  'lineItems',
  'lineItemLearningObjectiveIds',
  'lineItemScoreScales',
  'orgs',
  'resources',
  'results',
  'resultLearningObjectiveIds',
  'resultScoreScales',
  'roles',
  'scoreScales',
  'userProfiles',
  'userResources',
  'users',
] as const

/** A row by the names of its columns, as the columns of its file stand; columns that are not given are empty. */
export function rosteringRows(file: File, rows: readonly Readonly<Record<string, string>>[]): string[][] {
  const names = ROSTERING_FILES[file].map(({ name }) => name)
  return [names, ...rows.map((row) => names.map((name) => row[name] ?? ''))]
}

/**
 * What of a rostering bundle is not as the standard says, a sentence each; nothing: it is valid bulk data of version 1.2.
 * @param bytes the zip
 */
export function checkBundleModel(bytes: Uint8Array): string[] {
  const files = unzipWithin(bytes, () => true)
  if (!files.ok) return files.problems.map(({ sentence }) => sentence)
  const problems: string[] = []
  const tables = new Map<string, string[][]>()
  for (const [name, content] of Object.entries(files.value)) {
    const { data, errors } = Papa.parse<string[]>(decodeText(content).text, { skipEmptyLines: true })
    for (const { message, row } of errors) problems.push(`${name}, row ${row ?? 0}: ${message}`)
    tables.set(name, data)
  }
  const manifest = new Map((tables.get('manifest.csv') ?? []).slice(1).map(([name = '', value = '']) => [name, value]))
  if (tables.get('manifest.csv')?.[0]?.join() !== 'propertyName,value') problems.push('manifest.csv: its heading.')
  if (manifest.get('manifest.version') !== '1.0') problems.push('manifest.csv: manifest.version is 1.0.')
  if (manifest.get('oneroster.version') !== '1.2') problems.push('manifest.csv: oneroster.version is 1.2.')
  for (const file of MANIFEST_FILES) {
    const is = manifest.get(`file.${file}`)
    const isThere = tables.has(`${file}.csv`)
    if (is !== (isThere ? 'bulk' : 'absent')) problems.push(`manifest.csv: file.${file} is ${String(is)}.`)
  }
  const known = new Set(['manifest', ...MANIFEST_FILES].map((file) => `${file}.csv`))
  for (const name of tables.keys()) if (!known.has(name)) problems.push(`${name} is no file of the standard.`)

  const names = Object.keys(ROSTERING_FILES) as File[]
  const ids = new Map(
    names.map((file) => [file, new Set((tables.get(`${file}.csv`) ?? []).slice(1).map(([id = '']) => id))]),
  )
  for (const file of names) {
    const table = tables.get(`${file}.csv`)
    if (table) checkFile(file, table, ids, problems)
  }
  return problems
}

function checkFile(
  file: File,
  [heading = [], ...rows]: readonly string[][],
  ids: ReadonlyMap<File, ReadonlySet<string>>,
  problems: string[],
): void {
  const columns = ROSTERING_FILES[file]
  const wanted = columns.map(({ name }) => name).join()
  if (heading.slice(0, columns.length).join() !== wanted) problems.push(`${file}.csv: its columns are ${wanted}.`)
  for (const more of heading.slice(columns.length))
    if (!more.startsWith('metadata.')) problems.push(`${file}.csv: ${more} is no column of the standard.`)
  if (ids.get(file)!.size < rows.length) problems.push(`${file}.csv: two rows have the same sourcedId.`)
  rows.forEach((row, at) => {
    const where = (name: string) => `${file}.csv, row ${at + 2}, ${name}`
    if (row.length !== heading.length) problems.push(`${file}.csv, row ${at + 2}: as many cells as columns.`)
    columns.forEach(({ name, is, required }, index) => {
      const value = row[index] ?? ''
      if (value === '') {
        if (required) problems.push(`${where(name)}: must not be empty.`)
        return
      }
      const wrong = problemOf(value, is, ids)
      if (wrong) problems.push(`${where(name)}: ${wrong}`)
    })
  })
  if (file !== 'academicSessions') return
  const at = (name: string) => columns.findIndex((one) => one.name === name)
  rows.forEach((row, index) => {
    const [start = '', end = '', year = ''] = ['startDate', 'endDate', 'schoolYear'].map((name) => row[at(name)])
    if (end <= start) problems.push(`${file}.csv, row ${index + 2}: it ends after it begins.`)
    if (!end.startsWith(year)) problems.push(`${file}.csv, row ${index + 2}: schoolYear is the year in which it ends.`)
  })
}

function problemOf(value: string, is: Kind, ids: ReadonlyMap<File, ReadonlySet<string>>): string | null {
  if (typeof is === 'object') {
    if ('of' in is) return is.of.includes(value) ? null : `${value} is none of ${is.of.join(', ')}.`
    for (const id of is.many ? value.split(',') : [value])
      if (!ids.get(is.to)!.has(id)) return `${id} is not in ${is.to}.csv.`
    return null
  }
  switch (is) {
    case 'blank':
      return 'is empty in bulk data.'
    case 'id':
      return /^[A-Za-z0-9._:/@-]{1,255}$/.test(value) ? null : `${value} is no identifier.`
    case 'date':
      return /^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/.test(value) ? null : `${value} is no date.`
    case 'year':
      return /^\d{4}$/.test(value) ? null : `${value} is no year of four digits.`
    case 'number':
      return /^-?\d+(\.\d+)?$/.test(value) ? null : `${value} is no number.`
    case 'truth':
      return value === 'true' || value === 'false' ? null : `${value} is neither true nor false.`
    case 'pairs':
      return /^\{[^{}:,]+:[^{}]+\}(,\{[^{}:,]+:[^{}]+\})*$/.test(value) ? null : `${value} are no pairs in brackets.`
    default:
      return null
  }
}
