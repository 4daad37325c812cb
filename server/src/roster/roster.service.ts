import {
  CLASS_SIZE_LIMIT,
  COLUMN_LIMIT,
  type CheckedRow,
  type Problem,
  type RosterColumn,
  type RosterRow,
  type Viewer,
  checkColumnName,
  checkRoster,
  cleanText,
  emailKey,
  foldText,
  joinsOf,
  numberKey,
  rosterMembers,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, type EntityManager, Any } from 'typeorm'
import { conflict, malformed } from '../common/problemDetails.js'
import { Events } from '../events/events.js'
import { helpedBy, holdInClass } from '../access/classRole.js'
import { addColumn, columnsOf, tooManyColumns } from './columns.js'
import { bringStudents } from './moveUp.queries.js'
import { setLeft, writeCells, writePeople, writeRows } from './rosterWrite.queries.js'
import { lockClass, studentsOf } from './students.js'
import { type RosterStudent } from './roster.queries.js'
import { inSchool } from '../database/inSchool.js'
import { Person } from '../access/access.entity.js'
import { identitiesKnown, identitiesOfOthers } from './roster.queries.js'

/** What saving a list did. */
export interface SavedList {
  readonly added: number
  readonly changed: number
  readonly unchanged: number
  readonly back: number
  readonly left: number
}

@Injectable()
export class RosterService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  async roster(viewer: Viewer, classId: string): Promise<RosterStudent[]> {
    const role = await holdInClass(this.source, viewer, classId, 'see the roster')
    const helped = await helpedBy(this.source, viewer, classId, role)
    const students = await studentsOf(this.source, viewer.schoolId, classId)
    return helped ? students.filter(({ personId }) => helped.has(personId)) : students
  }

  /**
   * Saves a list into a roster: adds who is new, brings back who had left, changes what differs, and takes out only those
   * who are named. Somebody of the school with the same e-mail or student number joins instead of being made twice.
   */
  async save(
    viewer: Viewer,
    classId: string,
    rows: readonly RosterRow[],
    leave: readonly string[] = [],
  ): Promise<SavedList> {
    const saved = await once(() =>
      this.source.transaction(async (tx) => {
        await holdInClass(tx, viewer, classId, 'change the roster')
        await lockClass(tx, viewer.schoolId, classId)
        const columns = await columnsOf(tx, viewer.schoolId, classId)
        const students = await studentsOf(tx, viewer.schoolId, classId)
        const checked = checkRoster(rows, rosterMembers(students, columns))
        refuseStopping(checked.rows)
        const joins = await this.knownInSchool(tx, viewer.schoolId, checked.rows)
        const size = students.filter(({ leftAt }) => leftAt === null).length + checked.counts.new + checked.counts.back
        if (size > CLASS_SIZE_LIMIT)
          throw malformed([
            {
              code: 'class-too-large',
              field: 'rows',
              sentence: `One class takes up to ${CLASS_SIZE_LIMIT} students; with this list it would have ${size}.`,
            },
          ])
        const idOf = await this.columnIds(tx, viewer.schoolId, classId, columns, checked.rows)
        await writeRows(tx, { schoolId: viewer.schoolId, classId }, checked.rows, joins, idOf)
        // Somebody who is in the list too stays, whatever was ticked beside it.
        const staying = new Set(checked.rows.map(({ personId }) => personId))
        const left = await setLeft(
          tx,
          viewer.schoolId,
          classId,
          leave.filter((id) => !staying.has(id)),
          true,
        )
        const { counts } = checked
        return {
          added: counts.new,
          changed: counts.changed,
          unchanged: counts.unchanged,
          back: counts.back,
          left,
        }
      }),
    )
    await this.events.tell('members changed', { schoolId: viewer.schoolId, classId })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
    return saved
  }

  /** The people of the school whom new rows are about, by the number of the row. */
  private async knownInSchool(
    tx: EntityManager,
    schoolId: string,
    rows: readonly CheckedRow[],
  ): Promise<Map<number, string>> {
    const people = await identitiesKnown(
      tx,
      schoolId,
      rows.flatMap(({ row }) => (row.email ? [emailKey(row.email)] : [])),
      rows.flatMap(({ row }) => (row.number ? [numberKey(row.number)] : [])),
    )
    const joins = joinsOf(
      rows,
      people.map(({ id, role, email_key, number_key }) => ({
        personId: id,
        isStudent: role === 'student',
        emailKey: email_key,
        numberKey: number_key,
      })),
    )
    if (!joins.ok) throw malformed(joins.problems)
    return joins.value
  }

  /** The id of each column that rows speak of; columns that there are not yet are made. */
  private async columnIds(
    tx: EntityManager,
    schoolId: string,
    classId: string,
    columns: readonly RosterColumn[],
    rows: readonly CheckedRow[],
  ): Promise<(name: string) => string> {
    const ids = new Map(columns.map(({ id, name }) => [foldText(name), id]))
    const names = columns.map(({ name }) => name)
    for (const name of new Set(rows.flatMap(({ row }) => Object.keys(row.cells ?? {})))) {
      if (ids.has(foldText(name))) continue
      const outcome = checkColumnName(name, names)
      if (!outcome.ok) throw malformed(outcome.problems.map((problem) => ({ ...problem, field: 'rows' })))
      if (names.length >= COLUMN_LIMIT) throw tooManyColumns('rows')
      names.push(outcome.value)
      ids.set(foldText(name), await addColumn(tx, schoolId, classId, outcome.value, 'text'))
    }
    return (name) => ids.get(foldText(name))!
  }

  /**
   * Changes cells of the roster; all of them or none. What two people change at once is kept of both; of one cell the
   * last change is.
   */
  async edit(viewer: Viewer, classId: string, edits: readonly CellEdit[]): Promise<RosterStudent[]> {
    const ids = [...new Set(edits.map(({ personId }) => personId))]
    await once(() =>
      this.source.transaction(async (tx) => {
        await holdInClass(tx, viewer, classId, 'change the roster')
        await lockClass(tx, viewer.schoolId, classId)
        const columns = new Map((await columnsOf(tx, viewer.schoolId, classId)).map((column) => [column.id, column]))
        // In one order, so that two people who share students never wait for each other.
        await inSchool(tx, viewer.schoolId).find(Person, { id: Any(ids) }, { select: ['id'], lock: true })
        const students = new Map(
          (await studentsOf(tx, viewer.schoolId, classId)).map((student) => [student.personId, student]),
        )
        const next = new Map<string, RosterRow>()
        const cells = new Map<string, Record<string, string>>()
        const problems: CellProblem[] = []
        for (const { personId, field, value } of edits) {
          const student = students.get(personId)
          if (!student) {
            problems.push({
              code: 'not-in-class',
              personId,
              field,
              sentence: 'This student is no longer in the class.',
            })
            continue
          }
          if (isFixed(field)) {
            const row = next.get(personId) ?? asRow(student)
            next.set(personId, { ...row, [field]: value })
          } else if (columns.has(field)) {
            const clean = checkRoster([{ first: 'x', last: '', email: '', cells: { [field]: value } }], []).rows[0]!
            const long = clean.doubts.find(({ code }) => code === 'too-long')
            if (long)
              problems.push({ code: long.code, personId, field, sentence: 'This is longer than a cell can keep.' })
            cells.set(personId, { ...cells.get(personId), [field]: cleanText(value) })
          } else problems.push({ code: 'no-column', personId, field, sentence: 'This column is no longer there.' })
        }
        const rows = [...next]
        const checked = checkRoster(
          rows.map(([, row]) => row),
          [],
        ).rows
        checked.forEach(({ doubts }, at) => {
          for (const { code, field, sentence, stops } of doubts)
            if (stops && code !== 'double-email' && code !== 'double-number')
              problems.push({ code, personId: rows[at]![0], field, sentence })
        })
        problems.push(
          ...(await this.takenIdentities(
            tx,
            viewer.schoolId,
            rows.map(([id], at) => [id, checked[at]!.row]),
          )),
        )
        if (problems.length)
          throw problems.every(({ code }) => code.endsWith('-taken'))
            ? conflict(problems[0]!.code, problems[0]!.sentence, { errors: problems })
            : malformed(problems)
        await writePeople(
          tx,
          viewer.schoolId,
          rows.map(([id], at) => [id, checked[at]!.row]),
        )
        await writeCells(tx, viewer.schoolId, classId, [...cells])
      }),
    )
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'roster' })
    const students = await studentsOf(this.source, viewer.schoolId, classId)
    return students.filter(({ personId }) => ids.includes(personId))
  }

  private async takenIdentities(
    tx: EntityManager,
    schoolId: string,
    rows: readonly (readonly [string, RosterRow])[],
  ): Promise<CellProblem[]> {
    const ids = new Set(rows.map(([id]) => id))
    const others = await identitiesOfOthers(tx, schoolId, {
      emailKey: rows.flatMap(([, { email }]) => (email ? [emailKey(email)] : [])),
      numberKey: rows.flatMap(([, { number }]) => (number ? [numberKey(number)] : [])),
      id: [...ids],
    })
    const problems: CellProblem[] = []
    const seen = new Map<string, string>()
    for (const [personId, { email, number }] of rows)
      for (const field of ['email', 'number'] as const) {
        const key = field === 'email' ? email && emailKey(email) : number && numberKey(number)
        if (!key) continue
        const other = others.find((person) => (field === 'email' ? person.email_key : person.number_key) === key)
        const word = field === 'email' ? 'e-mail' : 'student number'
        if (other || seen.has(`${field} ${key}`))
          problems.push({
            code: `${field}-taken`,
            personId,
            field,
            sentence: `${other?.name ?? 'Another student in this change'} has this ${word} already.`,
          })
        seen.set(`${field} ${key}`, personId)
      }
    return problems
  }

  /** Puts students of another class of this person into this one; how many are in it that were not. */
  async bringFrom(viewer: Viewer, classId: string, from: string, personIds: readonly string[]): Promise<number> {
    const count = await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change the roster')
      const role = await holdInClass(tx, viewer, from, 'see the roster')
      const helped = await helpedBy(this.source, viewer, from, role)
      await lockClass(tx, viewer.schoolId, classId)
      const added = await bringStudents(
        tx,
        viewer.schoolId,
        from,
        classId,
        helped ? personIds.filter((id) => helped.has(id)) : personIds,
      )
      const students = await studentsOf(tx, viewer.schoolId, classId)
      if (students.filter(({ leftAt }) => leftAt === null).length > CLASS_SIZE_LIMIT)
        throw malformed([
          {
            code: 'class-too-large',
            field: 'personIds',
            sentence: `One class takes up to ${CLASS_SIZE_LIMIT} students.`,
          },
        ])
      return added
    })
    await this.events.tell('members changed', { schoolId: viewer.schoolId, classId })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
    return count
  }

  /** Students leave the class, or come back; their work is kept either way. */
  async setLeft(viewer: Viewer, classId: string, personIds: readonly string[], left: boolean): Promise<number> {
    const count = await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change the roster')
      return setLeft(tx, viewer.schoolId, classId, personIds, left)
    })
    await this.events.tell('members changed', { schoolId: viewer.schoolId, classId })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
    return count
  }
}

/** One cell to change: a fixed field, or the id of a column. */
export interface CellEdit {
  readonly personId: string
  readonly field: string
  readonly value: string
}

type CellProblem = Problem & { readonly personId: string }

type FixedField = 'last' | 'first' | 'email' | 'number'
const isFixed = (field: string): field is FixedField => ['last', 'first', 'email', 'number'].includes(field)

const asRow = ({ first, last, email, number }: RosterStudent): RosterRow => ({
  first,
  last,
  email: email ?? '',
  number: number ?? '',
})

function refuseStopping(rows: readonly CheckedRow[]): void {
  const problems = rows.flatMap(({ doubts }, row) =>
    doubts
      .filter(({ stops }) => stops)
      .map(({ code, field, sentence }) => ({ code, row, field: `rows.${row}.${field}`, sentence })),
  )
  if (problems.length) throw malformed(problems)
}

/** Does something again if somebody else took the same e-mail or number in that moment; then it sees them. */
async function once<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work()
  } catch (error) {
    if ((error as { driverError?: { code?: string } }).driverError?.code !== '23505') throw error
    return work()
  }
}
