import {
  type CameIn,
  type Viewer,
  answerSpaces,
  baseAddress,
  fullName,
  gathered,
  keptContent,
  mayInClass,
  spaceQuestions,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { Any, DataSource } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { classRole, holdInClass } from '../access/classRole.js'
import { notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { copyOf } from '../kept/copyRecord.js'
import { findHandout } from '../slip/handoutSet.js'
import { type ThreadCall, ThreadTasks } from '../tasks/threadTasks.js'
import { Edition } from '../worksheet/worksheet.entity.js'
import { type CopyCompared, copiesCompared, logWithTimes, matesIn, piecesOf, sizesOf } from './likeness.queries.js'
import { LOG_LIMIT, type howTheyCame, type likenessOf } from './likenessThread.js'

export const LIKENESS_LIMITS = {
  ...{ own: 1_200, others: 1_200, beside: 10, letters: 100_000, runs: 24 },
  /** What is kept of the answers of all copies, and of one. */
  ...{ bytes: 100_000_000, bytesOfCopy: 4_000_000 },
} as const

const THREAD = new URL('./likenessThread.js', import.meta.url).href
const COMPARE: ThreadCall<typeof likenessOf> = { module: THREAD, name: 'likenessOf' }
const CAME: ThreadCall<typeof howTheyCame> = { module: THREAD, name: 'howTheyCame' }

/** Words of an answer, of which it is asked how they came. */
export interface WordsAsked {
  readonly copyId: string
  readonly space: string
  readonly words: string
}

/** Copies that share more than the print and what the class has in common: places to look, for those who teach the class. */
@Injectable()
export class LikenessService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly tasks: ThreadTasks,
  ) {}

  /**
   * @param withOthers against the copies of the same worksheet in one's other classes too, of earlier years as well
   * @param beside texts that are compared with the copies, and kept nowhere
   */
  async likeness(
    viewer: Viewer,
    handoutId: string,
    {
      withOthers,
      beside,
    }: { readonly withOthers: boolean; readonly beside: readonly { readonly name: string; readonly text: string }[] },
  ) {
    const { schoolId } = viewer
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'compare copies')
    const own = await copiesCompared(this.source, schoolId, handoutId, { which: 'own', most: LIKENESS_LIMITS.own })
    const others = withOthers ? await this.othersOf(viewer, handoutId) : []
    const copies = [...own, ...others]
    const read = await this.readable(schoolId, copies)
    const [pieces, contents, people] = await Promise.all([
      piecesOf(this.source, schoolId, read),
      this.contentsOf(schoolId, copies),
      this.peopleOf(
        schoolId,
        (handout.given ?? handout.statement).items.flatMap(({ groupSet }) => groupSet?.id ?? []),
      ),
    ])
    const found = await this.tasks.run(viewer, COMPARE, {
      contents: [...contents].map(([key, content]) => ({ key, content })),
      copies: copies.map((copy, at) => ({
        copyId: copy.copyId,
        key: keyOf(copy),
        people: people(copy),
        isOwn: at < own.length,
      })),
      pieces: pieces.map(({ bytes, ...piece }) => ({ ...piece, bytes: new Uint8Array(bytes) })),
      beside,
    })
    const told = new Set(found.texts.map(({ id }) => id))
    const byId = new Map(copies.map((copy) => [copy.copyId, copy]))
    return {
      /** How many were compared: of this handout, of others, and of those some whose answers could not be read in time. */
      compared: { own: own.length, others: others.length, unread: found.unread.length + copies.length - read.length },
      pairs: found.pairs,
      /** What the texts beside them are called. */
      beside: beside.map(({ name }) => name),
      copies: copies
        .filter(({ copyId }) => told.has(copyId))
        .map(({ copyId, class: className, year, handout: title, number, title: called, holders }) => ({
          ...{ copyId, class: className, year, handout: title, number, title: called },
          name: holders.map(fullName).join(', ') || called,
          isOwn: byId.get(copyId)!.handoutId === handoutId,
        })),
      texts: found.texts.map(({ id, parts }) => {
        const copy = byId.get(id)
        const questions = copy ? spaceQuestions(contents.get(keyOf(copy))!) : null
        return {
          id,
          parts: parts.map(({ space, text }) => ({
            ...{ space, text },
            question: questions?.get(baseAddress(space).base) ?? '',
          })),
        }
      }),
    }
  }

  /** How words came into answers: when, by whom, and whether in one piece; null: from before there was a log, or too long ago in it. */
  async howTheyCame(
    viewer: Viewer,
    handoutId: string,
    asked: readonly WordsAsked[],
  ): Promise<((Omit<CameIn, 'personId'> & { readonly by: string }) | null)[]> {
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'compare copies')
    const answers: (CameIn | null)[] = asked.map(() => null)
    const byAnswer = gathered(
      asked.map((one, at) => ({ ...one, at })),
      ({ copyId, space }) => `${copyId} ${space}`,
    )
    for (const own of byAnswer.values()) {
      const { copyId, space: address } = own[0]!
      const copy = await copyOf(this.source, viewer.schoolId, copyId)
      // Of another handout only the same worksheet is asked for, and only by those who teach its class.
      await holdInClass(this.source, viewer, copy.classId, 'compare copies')
      const space = answerSpaces(copy.content).find(({ id }) => id === address)
      if (!space) throw notThere()
      if (copy.unreadable) continue
      const log = await logWithTimes(this.source, viewer.schoolId, copyId, address, LOG_LIMIT)
      const came = await this.tasks.run(viewer, CAME, {
        space,
        log: log.map((change) => ({ ...change, bytes: new Uint8Array(change.bytes) })),
        runs: own.map(({ words }) => words),
      })
      for (const [at, one] of own.entries()) answers[one.at] = came[at] ?? null
    }
    const ids = [...new Set(answers.flatMap((one) => one?.personId ?? []))]
    const people = await inSchool(this.source, viewer.schoolId).find(
      Person,
      { id: Any(ids) },
      { select: ['id', 'first', 'last'] },
    )
    const names = new Map(people.map((person) => [person.id, fullName(person)]))
    return answers.map((one) => {
      if (!one) return null
      const { personId, ...came } = one
      return { ...came, by: names.get(personId) ?? '' }
    })
  }

  /** Copies of the same worksheets in other handouts, of the classes that somebody teaches or taught. */
  private async othersOf(viewer: Viewer, handoutId: string): Promise<CopyCompared[]> {
    const found = await copiesCompared(this.source, viewer.schoolId, handoutId, {
      which: 'others',
      most: 4 * LIKENESS_LIMITS.others,
    })
    const may = new Map<string, boolean>()
    for (const { classId } of found)
      if (!may.has(classId)) {
        const { role, archived } = await classRole(this.source, viewer, classId)
        may.set(classId, mayInClass(role, 'compare copies', archived).may)
      }
    return found.filter(({ classId }) => may.get(classId)).slice(0, LIKENESS_LIMITS.others)
  }

  /** The copies that can be read together: beyond a size they are not, whatever was put into them. */
  private async readable(schoolId: string, copies: readonly CopyCompared[]): Promise<string[]> {
    const ids = copies.map(({ copyId }) => copyId)
    const sizes = new Map((await sizesOf(this.source, schoolId, ids)).map(({ copyId, size }) => [copyId, size]))
    let left: number = LIKENESS_LIMITS.bytes
    return ids.filter((id) => {
      const size = sizes.get(id) ?? 0
      if (size > Math.min(left, LIKENESS_LIMITS.bytesOfCopy)) return false
      left -= size
      return true
    })
  }

  private async contentsOf(schoolId: string, copies: readonly CopyCompared[]) {
    const wanted = new Set(copies.map(keyOf))
    const editions = await inSchool(this.source, schoolId).find(
      Edition,
      { worksheetId: Any([...new Set(copies.map(({ worksheetId }) => worksheetId))]) },
      { select: ['worksheetId', 'number', 'content'] },
    )
    return new Map(
      editions.flatMap(({ worksheetId, number, content }) => {
        const key = keyOf({ worksheetId, edition: number })
        return wanted.has(key) ? [[key, keptContent(content)] as const] : []
      }),
    )
  }

  /** Who has a part in a copy, with their mates in these sets. */
  private async peopleOf(schoolId: string, setIds: readonly string[]) {
    const mates = setIds.length > 0 ? await matesIn(this.source, schoolId, setIds) : []
    const of = new Map(mates.map(({ personId, mates: own }) => [personId, own]))
    return ({ holders }: CopyCompared) => [
      ...new Set(holders.flatMap(({ personId }) => [personId, ...(of.get(personId) ?? [])])),
    ]
  }
}

const keyOf = ({ worksheetId, edition }: Pick<CopyCompared, 'worksheetId' | 'edition'>): string =>
  `${worksheetId} ${edition}`
