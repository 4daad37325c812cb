import {
  type AnswerSpace,
  type AnswerValue,
  type Viewer,
  acceptingToo,
  answerSpaces,
  answerText,
  baseAddress,
  checkAccepted,
  checkAnswer,
  gathered,
  isCheckedByWords,
  keptContent,
  keyWords,
  readAnswer,
  spaceQuestions,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { holdInClass } from '../access/classRole.js'
import { valueOf } from '../common/checked.js'
import { conflict, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { Events } from '../events/events.js'
import { type BoardShown, boardRows, rowsFor } from '../kept/boardRows.js'
import { DocLoader } from '../kept/docLoader.js'
import { findHandout } from '../slip/handoutSet.js'
import { AcceptedAnswer } from './board.entity.js'
import { answerPieces, sheetsGiven } from './board.queries.js'
import { heldBoard } from './heldBoard.js'

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

/** Where a question is: a worksheet of a handout, and an answer space of it. */
export interface Question {
  readonly handoutId: string
  readonly worksheetId: string
  readonly space: string
}

/** All answers to one question, and what is accepted there. */
@Injectable()
export class AnswersService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly loader: DocLoader,
    private readonly events: Events,
  ) {}

  /** All answers to one question, of the copies that somebody is shown; those of nobody, where nothing is written, are not among them. */
  async answers(viewer: Viewer, question: Question) {
    const { shown } = await heldBoard(this.source, viewer, question.handoutId)
    const { content, bare, accepted, space } = await this.asked(viewer, question)
    const answers: AnswerGiven[] = []
    for await (const { copyId, of, value } of this.values(viewer, question, shown, space)) {
      const text = answerText(space, value).trim()
      if (!text) continue
      const right = shown.withChecks ? isRight(space, value) : null
      answers.push({ copyId, of, text, right })
    }
    return {
      question: spaceQuestions(content).get(question.space) ?? '',
      kind: space.kind,
      /** What is accepted, or the model answer, for those who may know it; '': there is none. */
      key: shown.withChecks ? keyWords(bare) : '',
      /** What is accepted in this handout beside it; null: no more words can be, or it is not for who asks to know. */
      accepted: shown.withChecks && isCheckedByWords(bare) ? accepted : null,
      answers,
    }
  }

  /** In which copies an answer would be right or wrong if these were accepted beside the key. Nothing is changed. */
  async acceptedProof(viewer: Viewer, question: Question, texts: readonly string[]) {
    const { shown } = await this.held(viewer, question)
    const { bare, space } = await this.asked(viewer, question)
    const then = acceptingToo(bare, valueOf(checkAccepted(texts)))
    const changes: { copyId: string; of: string | null; text: string; right: boolean }[] = []
    for await (const { copyId, of, value } of this.values(viewer, question, shown, space)) {
      const right = isRight(then, value)
      if (right !== null && right !== isRight(space, value))
        changes.push({ copyId, of, text: answerText(space, value).trim(), right })
    }
    return { changes }
  }

  /**
   * Accepts these beside the key of the worksheet, in this handout: whether answers are right is told by it from now on. Points that were
   * given stay.
   * @param was as the page showed them
   */
  async accept(viewer: Viewer, question: Question, was: readonly string[], texts: readonly string[]): Promise<void> {
    await this.held(viewer, question)
    const { schoolId } = viewer
    const { handoutId, worksheetId, space } = question
    const to = valueOf(checkAccepted(texts))
    const { changes } = await this.acceptedProof(viewer, question, to)
    await this.source.transaction(async (tx) => {
      await findHandout(tx, viewer, handoutId, true)
      const school = inSchool(tx, schoolId)
      const [known] = await school.find(AcceptedAnswer, { handoutId, worksheetId, space }, { select: ['texts'] })
      if (JSON.stringify(known?.texts ?? []) !== JSON.stringify(was))
        throw conflict('changed-meanwhile', 'This was changed by somebody else meanwhile: look at it again.')
      if (to.length === 0) await school.delete(AcceptedAnswer, { handoutId, worksheetId, space })
      else await school.put(AcceptedAnswer, { handoutId, worksheetId, space, texts: to }, ['texts'])
    })
    await this.events.tell('key changed', {
      ...{ schoolId, handoutId },
      copyIds: [...new Set(changes.map(({ copyId }) => copyId))],
    })
  }

  private async held(viewer: Viewer, { handoutId }: Question) {
    const { handout, shown } = await heldBoard(this.source, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'hand back')
    return { handout, shown }
  }

  /** The answer space that is asked about: as its worksheet has it, and as the handout does. */
  private async asked({ schoolId }: Viewer, { handoutId, worksheetId, space: id }: Question) {
    const sheet = (await sheetsGiven(this.source, schoolId, handoutId)).find((one) => one.worksheetId === worksheetId)
    const content = sheet && keptContent(sheet.content)
    const bare = content && answerSpaces(content).find((one) => one.id === id)
    if (!content || !bare) throw notThere()
    const [kept] = await inSchool(this.source, schoolId).find(
      AcceptedAnswer,
      { handoutId, worksheetId, space: id },
      { select: ['texts'] },
    )
    const accepted = kept?.texts ?? []
    return { content, bare, accepted, space: acceptingToo(bare, accepted) }
  }

  /** What stands in an answer space in the copies that somebody is shown, one after the other. */
  private async *values(
    { schoolId }: Viewer,
    { handoutId, worksheetId, space: id }: Question,
    shown: BoardShown,
    space: AnswerSpace,
  ): AsyncGenerator<{ copyId: string; of: string | null; value: AnswerValue }> {
    const rows = rowsFor(await boardRows(this.source, schoolId, handoutId), shown)
    const copyIds = rows.filter(({ setAside }) => !setAside).map(({ copyId }) => copyId)
    const pieces = await answerPieces(this.source, schoolId, { handoutId, worksheetId, space: id, copyIds })
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
      yield { copyId, of: baseAddress(address).of, value }
      // Nobody waits for all of them.
      await new Promise((resolve) => setImmediate(resolve))
    }
  }
}

/** Whether an answer is right; null: it cannot be told. */
function isRight(space: AnswerSpace, value: AnswerValue): boolean | null {
  const { is } = checkAnswer(space, value)
  return is === 'right' || is === 'wrong' ? is === 'right' : null
}
