import {
  type BookCopies,
  type ClassRole,
  type MarkBookRules,
  type PaperColumnText,
  type Viewer,
  MARK_BOOK_LIMITS,
  PLAIN_RULES,
  bookCopies,
  bundleMarks,
  bookOf,
  checkMarkBookRules,
  checkPaperColumn,
  isPoints,
  markBookTable,
  mayInClass,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { Any, DataSource } from 'typeorm'
import { Class, ClassMember, School } from '../access/access.entity.js'
import { classRole, helpedBy, holdInClass } from '../access/classRole.js'
import { valueOf } from '../common/checked.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { Events } from '../events/events.js'
import { studentsOf } from '../roster/students.js'
import { Handout } from '../slip/slip.entity.js'
import { type OutFormat, RosterOutService } from '../rosterOut/rosterOut.service.js'
import { type OutFile, TABLE_TYPES, TableOut, fileName } from '../tasks/tableOut.js'
import { markedCopies, reckonAnew, wayFingerprint, wayOf } from './facts.js'
import { type HandoutColumn, copiesOfBook, earlierRounds, paperMarksOf } from './markBook.queries.js'
import { MarkBook, PaperColumn, PaperMark, StudentNote } from './marking.entity.js'

/** A mark for something on paper, as it is to be; `was`: as the page showed it. */
export interface PaperMarkWish {
  readonly personId: string
  readonly was: { readonly total: number | null; readonly excused: boolean }
  readonly to: { readonly total: number | null; readonly excused: boolean }
}

/** Mark books: students by handouts, and by what was marked on paper. */
@Injectable()
export class MarkBookService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly tables: TableOut,
    private readonly events: Events,
    private readonly rosters: RosterOutService,
  ) {}

  /** The mark book of a class, with the students that somebody may see. */
  async book(viewer: Viewer, classId: string) {
    const { schoolId } = viewer
    const role = await holdInClass(this.source, viewer, classId, 'see marks')
    const { archived, helpersMark } = await classRole(this.source, viewer, classId)
    const school = inSchool(this.source, schoolId)
    const students = await this.studentsFor(viewer, classId, role)
    const shown = new Set(students.map(({ personId }) => personId))
    const given = await school.find(Handout, { classId, kind: 'handout' }, { order: { number: 'ASC' } })
    const marked = given.filter((handout) => handout.handedOutAt !== null && wayOf(handout).kind !== 'not marked')
    const handouts = marked.map(columnOf)
    const several = handouts.flatMap(({ id, rounds }) => (rounds === 'last' ? [] : [id]))
    const [copies, earlier, [kept], paper, paperMarks, notes] = await Promise.all([
      this.copies(schoolId, marked, students),
      several.length === 0 ? [] : earlierRounds(this.source, schoolId, several),
      school.find(MarkBook, { classId }),
      school.find(PaperColumn, { classId }, { select: ['id', 'name', 'unit', 'most'], order: { madeAt: 'ASC' } }),
      paperMarksOf(this.source, schoolId, classId),
      school.find(StudentNote, { classId, personId: viewer.personId }, { select: ['studentId', 'text'] }),
    ])
    return {
      rules: kept?.rules ?? PLAIN_RULES,
      mayMark: mayInClass(role, 'mark', archived, helpersMark).may,
      maySetUp: mayInClass(role, 'set up the class', archived).may,
      students: students.map(({ personId, first, last }) => ({ personId, first, last })),
      handouts,
      earlier: earlier.filter(({ personId }) => shown.has(personId)),
      paper,
      copies,
      paperMarks: paperMarks.filter(({ personId }) => shown.has(personId)),
      /** One's own, by student. */
      notes: notes.filter(({ studentId }) => shown.has(studentId)),
    }
  }

  /** One column alone, as after a mark in it has changed: of a handout, or of the book's own. */
  async column(viewer: Viewer, classId: string, columnId: string) {
    const { schoolId } = viewer
    const role = await holdInClass(this.source, viewer, classId, 'see marks')
    const school = inSchool(this.source, schoolId)
    const [[handout], [paper]] = await Promise.all([
      school.find(Handout, { id: columnId, classId, kind: 'handout' }),
      school.find(PaperColumn, { id: columnId, classId }, { select: ['id'] }),
    ])
    if (!handout && !paper) throw notThere()
    const students = await this.studentsFor(viewer, classId, role)
    const shown = new Set(students.map(({ personId }) => personId))
    const isMarked = handout && handout.handedOutAt !== null && wayOf(handout).kind !== 'not marked'
    const [copies, earlier, paperMarks] = await Promise.all([
      isMarked ? this.copies(schoolId, [handout], students) : [],
      isMarked && columnOf(handout).rounds !== 'last' ? earlierRounds(this.source, schoolId, [columnId]) : [],
      school.find(PaperMark, { columnId }, { select: ['columnId', 'personId', 'total', 'excused'] }),
    ])
    return {
      students: students.map(({ personId }) => ({ personId })),
      copies,
      earlier: earlier.filter(({ personId }) => shown.has(personId)),
      paperMarks: paperMarks.filter(({ personId }) => shown.has(personId)),
    }
  }

  /** The students of a class that somebody may see. */
  private async studentsFor(viewer: Viewer, classId: string, role: ClassRole) {
    const helped = await helpedBy(this.source, viewer, classId, role)
    const all = await studentsOf(this.source, viewer.schoolId, classId)
    return all.filter(({ personId, leftAt }) => leftAt === null && (!helped || helped.has(personId)))
  }

  private tellMarks({ schoolId }: Viewer, classId: string, columnId?: string): Promise<void> {
    return this.events.tell('class changed', { schoolId, classId, part: 'marks', ...(columnId && { columnId }) })
  }

  /** The copies of handouts; where slips say otherwise now than when marks were reckoned, these are reckoned anew first. */
  private async copies(
    schoolId: string,
    handouts: readonly Handout[],
    students: readonly { readonly personId: string }[],
  ): Promise<BookCopies[]> {
    const byId = new Map(handouts.map((handout) => [handout.id, handout]))
    const read = (of: readonly Handout[]) => {
      const ways = of.map((handout) => ({ handoutId: handout.id, fingerprint: wayFingerprint(wayOf(handout)) }))
      return copiesOfBook(this.source, schoolId, ways, students)
    }
    const found = await read(handouts)
    const stale = found.flatMap(({ handoutId, isStale }) => (isStale ? [byId.get(handoutId)!] : []))
    for (const handout of stale) await reckonAnew(this.source, handout, await markedCopies(this.source, handout, null))
    const anew = new Map((await read(stale)).map((copies) => [copies.handoutId, copies]))
    return found.map(({ handoutId, lines }) => ({ handoutId, lines: anew.get(handoutId)?.lines ?? lines }))
  }

  async write(viewer: Viewer, classId: string, format: OutFormat): Promise<OutFile> {
    const sent = await this.book(viewer, classId)
    const read = { ...sent, copies: bookCopies(sent.copies, sent.students) }
    const now = Date.now()
    const book = bookOf(read, now)
    const [found] = await inSchool(this.source, viewer.schoolId).find(Class, { id: classId }, { select: ['name'] })
    const title = `${found!.name}, mark book`
    if (format !== 'bundle')
      return {
        name: fileName(title, format),
        type: TABLE_TYPES[format],
        bytes: await this.tables.write(viewer, format, title, markBookTable(book, read.rules)),
      }
    const role = await holdInClass(this.source, viewer, classId, 'see marks')
    const school = await this.source.manager.findOneByOrFail(School, { id: viewer.schoolId })
    const marks = bundleMarks(classId, book, sent.handouts, school.timeZone, now)
    return {
      name: fileName(title, 'zip'),
      type: 'application/zip',
      bytes: await this.rosters.bundle(viewer, classId, await this.studentsFor(viewer, classId, role), marks),
    }
  }

  /** How the mark book reckons from now on. */
  async keepRules(viewer: Viewer, classId: string, wished: MarkBookRules): Promise<void> {
    await holdInClass(this.source, viewer, classId, 'set up the class')
    const rules = valueOf(checkMarkBookRules(wished))
    await inSchool(this.source, viewer.schoolId).put(MarkBook, { classId, rules }, ['rules'])
    await this.tellMarks(viewer, classId)
  }

  /**
   * Notes something of a student, for oneself alone; empty: nothing any more.
   * @param was as the page showed it
   */
  async keepNote(viewer: Viewer, classId: string, studentId: string, was: string, typed: string): Promise<void> {
    const role = await holdInClass(this.source, viewer, classId, 'see marks')
    const helped = await helpedBy(this.source, viewer, classId, role)
    if (helped && !helped.has(studentId)) throw notThere()
    const text = typed.trim()
    const { personId } = viewer
    await this.source.transaction(async (tx) => {
      const school = inSchool(tx, viewer.schoolId)
      const which = { classId, personId: studentId, role: 'student' as const }
      // Held until it is kept: two windows of one's own come one after the other.
      const [member] = await school.find(ClassMember, which, { select: ['personId'], lock: true })
      if (!member) throw notThere()
      const [known] = await school.find(StudentNote, { classId, studentId, personId }, { select: ['text'] })
      if ((known?.text ?? '') === text) return
      if ((known?.text ?? '') !== was.trim())
        throw conflict('changed-meanwhile', 'You wrote something else here in another window: look at it again.')
      if (text) await school.put(StudentNote, { classId, studentId, personId, text }, ['text'])
      else await school.delete(StudentNote, { classId, studentId, personId })
    })
  }

  /** A column for something on paper: a new one, or another name, unit or most. */
  async keepColumn(viewer: Viewer, classId: string, columnId: string, typed: PaperColumnText): Promise<void> {
    await holdInClass(this.source, viewer, classId, 'set up the class')
    const school = inSchool(this.source, viewer.schoolId)
    const values = valueOf(checkPaperColumn(typed))
    const [other] = await school.find(PaperColumn, { id: columnId }, { select: ['classId'] })
    if (other && other.classId !== classId) throw notThere()
    if (!other && (await school.count(PaperColumn, { classId })) >= MARK_BOOK_LIMITS.columns)
      throw conflict('too-many-columns', `A mark book has up to ${MARK_BOOK_LIMITS.columns} columns of one's own.`)
    if (other) await school.update(PaperColumn, { id: columnId }, values)
    else await school.insert(PaperColumn, { id: columnId, classId, ...values, madeAt: Date.now() })
    await this.tellMarks(viewer, classId)
  }

  /** Takes a column out; one with marks only when it is said so. */
  async removeColumn(viewer: Viewer, classId: string, columnId: string, withMarks: boolean): Promise<void> {
    await holdInClass(this.source, viewer, classId, 'set up the class')
    await this.source.transaction(async (tx) => {
      const school = inSchool(tx, viewer.schoolId)
      const [column] = await school.find(PaperColumn, { id: columnId, classId }, { select: ['id'], lock: true })
      if (!column) throw notThere()
      if (!withMarks && (await school.exists(PaperMark, { columnId })))
        throw conflict('has-marks', 'There are marks in this column: they would go with it.')
      await school.delete(PaperMark, { columnId })
      await school.delete(PaperColumn, { id: columnId })
    })
    await this.tellMarks(viewer, classId)
  }

  /** Marks for something on paper: all of them, or with the first that somebody else has changed meanwhile none. */
  async markOnPaper(viewer: Viewer, classId: string, columnId: string, marks: readonly PaperMarkWish[]): Promise<void> {
    const role = await holdInClass(this.source, viewer, classId, 'mark')
    const helped = await helpedBy(this.source, viewer, classId, role)
    await this.source.transaction(async (tx) => {
      const school = inSchool(tx, viewer.schoolId)
      const [column] = await school.find(PaperColumn, { id: columnId, classId }, { select: ['most'], lock: true })
      if (!column) throw notThere()
      const ids = marks.map(({ personId }) => personId)
      const members = await school.find(
        ClassMember,
        { classId, role: 'student', personId: Any(ids) },
        { select: ['personId'] },
      )
      const known = new Set(members.map(({ personId }) => personId))
      const before = new Map(
        (await school.find(PaperMark, { columnId, personId: Any(ids) })).map((mark) => [mark.personId, mark]),
      )
      for (const { personId, was, to } of marks) {
        if (!known.has(personId) || (helped && !helped.has(personId))) throw notThere()
        const is = before.get(personId)
        if ((is?.total ?? null) !== was.total || (is?.excused ?? false) !== was.excused)
          throw conflict('changed-meanwhile', 'This was changed by somebody else meanwhile: look at it again.')
        if (to.total !== null && !isPoints(to.total))
          throw malformed([{ code: 'points', field: 'total', sentence: 'Type points as a number, such as 14 or 14½.' }])
        await school.put(PaperMark, { columnId, personId, ...to, changedAt: Date.now(), changedBy: viewer.personId }, [
          'total',
          'excused',
          'changedAt',
          'changedBy',
        ])
      }
    })
    await this.tellMarks(viewer, classId, columnId)
  }
}

const columnOf = ({ id, number, title, given, handedOutAt, dueAt }: Handout): HandoutColumn => ({
  ...{ id, number, title, dueAt, givenAt: handedOutAt },
  unit: given?.unit?.name ?? null,
  rounds: given?.rounds ?? 'last',
})
