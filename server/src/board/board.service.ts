import {
  type TimeSpan,
  type Viewer,
  answerText,
  baseAddress,
  boardSpaces,
  checkAnswer,
  answerSpaces,
  gathered,
  keptContent,
  keyWords,
  mayInClass,
  maySeeKey,
  readAnswer,
  spaceQuestions,
  statesOverTime,
  timeSteps,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { classRole, helpedBy, holdInClass } from '../access/classRole.js'
import { notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { type DifferencesNow, differencesNow } from '../handOut/differencesNow.js'
import { findHandout, handoutsOfSet } from '../slip/handoutSet.js'
import { guestsToMatch } from '../handout/guests.queries.js'
import { type BoardShown, boardRows, rowsFor } from '../kept/boardRows.js'
import { DocLoader } from '../kept/docLoader.js'
import { CopyLook } from './board.entity.js'
import {
  type BoardHead,
  answerPieces,
  boardHead,
  journalsOf,
  leftOutOf,
  looksOf,
  sheetsGiven,
  writersIn,
  writtenInSteps,
} from './board.queries.js'

/** One answer to a question, as it stands. */
export interface AnswerGiven {
  readonly copyId: string
  /** Whose part it is in, where its section is repeated: a member's or a group's id, without dashes; null: it is there once. */
  readonly of: string | null
  /** In words. */
  readonly text: string
  /** Whether it is right by its key; null: it cannot be checked, or is not for who asks to know. */
  readonly right: boolean | null
}

/** Boards: a row a copy, all answers to one question, and what of a handout differs from what was handed out. */
@Injectable()
export class BoardService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly loader: DocLoader,
  ) {}

  async board(viewer: Viewer, handoutId: string) {
    const { schoolId } = viewer
    const { handout, role, shown } = await this.held(viewer, handoutId)
    const { students } = shown
    const { source } = this
    const [rows, sheets, leftOut, looked, guests] = await Promise.all([
      boardRows(source, schoolId, handoutId),
      sheetsGiven(source, schoolId, handoutId),
      leftOutOf(source, { schoolId, classId: handout.classId, handoutId }),
      looksOf(source, schoolId, handoutId, viewer.personId),
      // Who guests are is said by those who hand out.
      mayInClass(role, 'hand out').may ? guestsToMatch(source, schoolId, handoutId) : 0,
    ])
    return {
      handout,
      rows: rowsFor(rows, shown),
      guestsToMatch: guests,
      sheets: sheets.map(({ worksheetId, title, content }) => ({
        worksheetId,
        title,
        spaces: boardSpaces(keptContent(content)),
      })),
      leftOut: leftOut.filter(({ personId }) => !students || students.has(personId)),
      looked,
    }
  }

  /** All answers to one question, of the copies that somebody is shown; those of nobody, where nothing is written, are not among them. */
  async answers(viewer: Viewer, handoutId: string, worksheetId: string, spaceId: string) {
    const { schoolId } = viewer
    const { shown } = await this.held(viewer, handoutId)
    const sheet = (await sheetsGiven(this.source, schoolId, handoutId)).find((one) => one.worksheetId === worksheetId)
    const content = sheet && keptContent(sheet.content)
    const space = content && answerSpaces(content).find(({ id }) => id === spaceId)
    if (!content || !space) throw notThere()
    const rows = rowsFor(await boardRows(this.source, schoolId, handoutId), shown)
    const copyIds = rows.filter(({ setAside }) => !setAside).map(({ copyId }) => copyId)
    const pieces = await answerPieces(this.source, schoolId, { handoutId, worksheetId, space: spaceId, copyIds })
    const answers: AnswerGiven[] = []
    for (const own of gathered(pieces, ({ copyId, space: address }) => `${copyId} ${address}`).values()) {
      const { copyId, space: address } = own[0]!
      const doc = await this.loader.load(
        space.kind,
        own.map(({ bytes }) => bytes),
      )
      // One that takes too long to read is looked at in its copy, which says so.
      if (!doc) continue
      const value = readAnswer(space, doc)
      doc.destroy()
      const text = answerText(space, value).trim()
      if (!text) continue
      const { is } = shown.withChecks ? checkAnswer(space, value) : { is: 'unchecked' }
      const right = is === 'right' || is === 'wrong' ? is === 'right' : null
      answers.push({ copyId, of: baseAddress(address).of, text, right })
      // Nobody waits for all of them.
      await new Promise((resolve) => setImmediate(resolve))
    }
    return {
      question: spaceQuestions(content).get(spaceId) ?? '',
      kind: space.kind,
      /** What is accepted, or the model answer, for those who may know it; '': there is none. */
      key: shown.withChecks ? keyWords(space) : '',
      answers,
    }
  }

  /** The copies of all classes that a handout was given to, of those that somebody is shown. */
  async students(viewer: Viewer, handoutId: string) {
    const { schoolId } = viewer
    await this.held(viewer, handoutId)
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    const parts = []
    const sheets = new Map<string, string>()
    for (const { id, classId } of await handoutsOfSet(this.source.manager, handout)) {
      const { role } = await classRole(this.source, viewer, classId)
      if (!mayInClass(role, 'see handouts').may) continue
      const { handout: head, shown } = await this.held(viewer, id)
      const [rows, given] = await Promise.all([
        boardRows(this.source, schoolId, id),
        sheetsGiven(this.source, schoolId, id),
      ])
      for (const { worksheetId, title } of given) sheets.set(worksheetId, title)
      parts.push({
        ...{ handoutId: id, classId, class: head.class },
        rows: rowsFor(rows, shown)
          .filter(({ setAside, way }) => !setAside && way !== 'to read')
          .map(
            ({
              copyId,
              worksheetId,
              title,
              state,
              pensDown,
              answered,
              spaces,
              words,
              dueAt,
              submittedAt,
              holders,
            }) => ({
              ...{ copyId, worksheetId, title, state, pensDown, answered, spaces, words, dueAt, submittedAt },
              students: holders.map(({ personId, first, last }) => ({ personId, first, last })),
            }),
          ),
      })
    }
    return { parts, sheets: [...sheets].map(([worksheetId, title]) => ({ worksheetId, title })) }
  }

  /** Who has written how much in the copies that several share, of those that somebody is shown. */
  async writers(viewer: Viewer, handoutId: string) {
    const { shown } = await this.held(viewer, handoutId)
    const rows = rowsFor(await boardRows(this.source, viewer.schoolId, handoutId), shown)
    const shared = rows.filter(({ holders, setAside }) => holders.length > 1 && !setAside)
    const writers = await writersIn(
      this.source,
      viewer.schoolId,
      shared.map(({ copyId }) => copyId),
    )
    return writers.filter(({ personId }) => !shown.students || shown.students.has(personId))
  }

  /** How the copies that somebody is shown went on over time: their states, and how much was written in each. */
  async overTime(viewer: Viewer, handoutId: string, span: TimeSpan) {
    const { schoolId } = viewer
    const { handout, shown } = await this.held(viewer, handoutId)
    const rows = rowsFor(await boardRows(this.source, schoolId, handoutId), shown)
    const copyIds = rows.flatMap(({ copyId, setAside, way }) => (setAside || way === 'to read' ? [] : [copyId]))
    const now = Date.now()
    const journals = gathered(await journalsOf(this.source, schoolId, copyIds), ({ copyId }) => copyId)
    const begun = [...journals.values()].reduce(
      (first, [given]) => Math.min(first, given!.at),
      handout.handedOutAt ?? now,
    )
    const steps = timeSteps(span, begun, now)
    const written = await writtenInSteps(this.source, schoolId, copyIds, steps)
    const byCopy = gathered(written, ({ copyId }) => copyId)
    return {
      ...steps,
      states: statesOverTime(journals.values(), steps),
      written: copyIds.flatMap((copyId) => {
        const own = byCopy.get(copyId)
        if (!own) return []
        const changes = Array.from({ length: steps.count }, () => 0)
        for (const one of own) if (one.step >= 0 && one.step < steps.count) changes[one.step] = one.changes
        return [{ copyId, changes }]
      }),
    }
  }

  /** Somebody of the staff has looked at a copy, up to now. */
  async look(viewer: Viewer, handoutId: string, copyId: string): Promise<void> {
    const { shown } = await this.held(viewer, handoutId)
    const [row] = rowsFor(await boardRows(this.source, viewer.schoolId, handoutId, [copyId]), shown)
    if (!row) throw notThere()
    const look = { personId: viewer.personId, copyId, at: Date.now() }
    await inSchool(this.source, viewer.schoolId).put(CopyLook, look, ['at'])
  }

  /** For those who can mend it. */
  async differences(viewer: Viewer, handoutId: string): Promise<DifferencesNow | null> {
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'hand out')
    return differencesNow(this.source, handout)
  }

  /** A handout whose board somebody may see, and what they are shown of it. */
  private async held(viewer: Viewer, handoutId: string) {
    const handout = await boardHead(this.source, viewer.schoolId, handoutId)
    if (!handout) throw notThere()
    const role = await holdInClass(this.source, viewer, handout.classId, 'see handouts')
    const students = await helpedBy(this.source, viewer, handout.classId, role)
    const shown: BoardShown = { students, withChecks: maySeeKey(role) }
    return { handout, role, shown } satisfies { handout: BoardHead; role: typeof role; shown: BoardShown }
  }
}
