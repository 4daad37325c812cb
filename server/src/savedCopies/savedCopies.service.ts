import { type ClassRole, type Viewer, gathered, mayInClass, mayTeach } from '@gavrin/core'
import { type BeforeApplicationShutdown, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { Any, DataSource } from 'typeorm'
import { roleInSchool } from '../access/access.queries.js'
import { Class, Person } from '../access/access.entity.js'
import { classRole, helpedBy } from '../access/classRole.js'
import { hold } from '../access/viewer.js'
import { cleanTitle } from '../common/files.js'
import { ProblemException, conflict, isDatabaseAway, malformed, notThere } from '../common/problemDetails.js'
import { type CopyFormat, CopyOutService } from '../copy/copyOut.service.js'
import { inSchool } from '../database/inSchool.js'
import { CopyHolder } from '../kept/kept.entity.js'
import { Handout } from '../slip/slip.entity.js'
import { type CopyToSave, SavedCopies, SavedCopiesFile } from './savedCopies.entity.js'
import {
  type CopyFound,
  type SavedOf,
  copiesToSave,
  countSaved,
  dropOldSaved,
  nextToSave,
} from './savedCopies.queries.js'
import { zipped } from './zipped.js'

const DAY = 86_400_000
export const SAVED_LIMITS = {
  /** Copies at once. */
  copies: 2_000,
  /** Of one person, unfinished. */
  unfinished: 3,
  /** Of one person, in all. */
  kept: 12,
  /** Files of one, in bytes. */
  size: 600_000_000,
  /** How long they are there to be fetched, in milliseconds. */
  keptFor: 7 * DAY,
} as const

/** After an error of the database it is tried again, in milliseconds. */
const PAUSE = 2_000
const SWEEP = 3_600_000
const PATIENCE = 2_000

const ABOUT = ['id', 'format', 'title', 'copies', 'failed', 'done', 'size', 'begunAt', 'finishedAt'] as const

/** Many copies as documents, in one file: put down first, then made one by one, whatever happens to the process. */
@Injectable()
export class SavedCopiesService implements OnApplicationBootstrap, BeforeApplicationShutdown {
  private readonly log = new Logger('saved copies')
  private working: Promise<void> | null = null
  private isStopped = false
  private sweeping: NodeJS.Timeout | null = null

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly out: CopyOutService,
  ) {}

  /** What was not finished goes on. */
  onApplicationBootstrap(): void {
    this.wake()
    this.sweeping = setInterval(() => void this.sweep().catch(() => undefined), SWEEP)
    this.sweeping.unref()
  }

  async beforeApplicationShutdown(): Promise<void> {
    this.isStopped = true
    if (this.sweeping) clearInterval(this.sweeping)
    // A page that is being printed is done again after.
    await Promise.race([this.working, new Promise((resolve) => setTimeout(resolve, PATIENCE).unref())])
  }

  /** Those of a person, the newest first. */
  async all(viewer: Viewer) {
    hold(mayTeach(viewer))
    await this.sweep()
    const found = await inSchool(this.source, viewer.schoolId).find(
      SavedCopies,
      { personId: viewer.personId },
      { select: ABOUT, order: { begunAt: 'DESC' } },
    )
    return found.map(({ copies, failed, ...one }) => ({
      ...one,
      total: copies.length,
      failed: failed.map(({ name, why }) => ({ name, why })),
      /** Until when it can be fetched; null: it is not done. */
      until: one.finishedAt === null ? null : one.finishedAt + SAVED_LIMITS.keptFor,
    }))
  }

  /**
   * Begins to save copies.
   * @param copyIds only these; null: all that somebody is shown
   */
  async begin(
    viewer: Viewer,
    of: SavedOf,
    format: CopyFormat,
    copyIds: readonly string[] | null,
  ): Promise<{ id: string; total: number }> {
    hold(mayTeach(viewer))
    const named = Object.values(of).filter((id) => id !== null)
    if (named.length !== 1)
      throw malformed([{ code: 'saved-of', field: 'of', sentence: 'Say one handout, one class or one student.' }])
    const found = await copiesToSave(this.source, viewer.schoolId, of, SAVED_LIMITS.copies + 1)
    const wanted = copyIds && new Set(copyIds)
    const shown = (await this.shownOf(viewer, found)).filter(({ copyId }) => !wanted || wanted.has(copyId))
    if (shown.length === 0) throw conflict('no-copies', 'There are no copies to save.')
    if (found.length > SAVED_LIMITS.copies)
      throw conflict(
        'too-many-copies',
        `Up to ${SAVED_LIMITS.copies} copies are saved at once: save one handout after the other.`,
      )
    const title = await this.titleOf(viewer, of)
    const id = randomUUID()
    const now = Date.now()
    await this.source.transaction(async (tx) => {
      const school = inSchool(tx, viewer.schoolId)
      // Two windows of one person: the second finds what the first has begun.
      await school.hold(Person, { id: viewer.personId })
      const own = await school.find(
        SavedCopies,
        { personId: viewer.personId },
        { select: ['id', 'finishedAt'], order: { begunAt: 'DESC' } },
      )
      if (own.filter(({ finishedAt }) => finishedAt === null).length >= SAVED_LIMITS.unfinished)
        throw conflict(
          'too-many-unfinished',
          `${SAVED_LIMITS.unfinished} of yours are being saved at the moment: wait for one of them, or stop one.`,
        )
      for (const old of own.slice(SAVED_LIMITS.kept - 1).filter(({ finishedAt }) => finishedAt !== null))
        await school.delete(SavedCopies, { id: old.id })
      await school.insert(SavedCopies, {
        ...{ id, personId: viewer.personId, format, title, begunAt: now, workedAt: now, finishedAt: null },
        copies: filesOf(shown, of, format),
      })
    })
    this.wake()
    return { id, total: shown.length }
  }

  /** Stops one that is being saved, or lets go of one that is done. */
  async drop(viewer: Viewer, id: string): Promise<void> {
    const gone = await inSchool(this.source, viewer.schoolId).delete(SavedCopies, { id, personId: viewer.personId })
    if (gone === 0) throw notThere()
  }

  /** All in one file, of what its owner may still see. */
  async file(viewer: Viewer, id: string) {
    const school = inSchool(this.source, viewer.schoolId)
    const [found] = await school.find(SavedCopies, { id, personId: viewer.personId }, { select: ABOUT })
    if (!found) throw notThere()
    if (found.finishedAt === null)
      throw conflict('not-saved-yet', 'It is not done yet: fetch it when all copies are saved.')
    const failed = new Set(found.failed.map(({ place }) => place))
    const maySee = await this.stillShown(viewer, found.copies)
    const shown = found.copies.flatMap(({ name, copyId }, place) =>
      failed.has(place) || !maySee.has(copyId) ? [] : [{ name, place }],
    )
    if (shown.length === 0) throw conflict('no-copies', 'None of its copies could be saved: see why beside it.')
    return {
      name: `${cleanTitle(found.title, 'copies')}.zip`,
      stream: zipped(shown, async (place) => {
        const [file] = await school.find(SavedCopiesFile, { savedId: id, place }, { select: ['bytes'] })
        if (!file) throw notThere()
        return file.bytes
      }),
    }
  }

  /** Of copies those whose work somebody is shown, as staff of their classes. */
  private async shownOf<C extends Pick<CopyFound, 'classId' | 'holderIds'>>(
    viewer: Viewer,
    copies: readonly C[],
  ): Promise<C[]> {
    const classes = new Map<string, { role: ClassRole; helped: ReadonlySet<string> | null }>()
    const shown: C[] = []
    for (const copy of copies) {
      let of = classes.get(copy.classId)
      if (!of) {
        const { role } = await classRole(this.source, viewer, copy.classId)
        of = { role, helped: await helpedBy(this.source, viewer, copy.classId, role) }
        classes.set(copy.classId, of)
      }
      const { role, helped } = of
      if (mayInClass(role, 'see handouts').may && (!helped || copy.holderIds.some((id) => helped.has(id))))
        shown.push(copy)
    }
    return shown
  }

  /** Which of them somebody is shown now: who has left a class since does not take its copies along. */
  private async stillShown(viewer: Viewer, copies: readonly CopyToSave[]): Promise<ReadonlySet<string>> {
    const ids = copies.map(({ copyId }) => copyId)
    const holders = gathered(
      await inSchool(this.source, viewer.schoolId).find(
        CopyHolder,
        { copyId: Any(ids) },
        { select: ['copyId', 'personId'] },
      ),
      ({ copyId }) => copyId,
    )
    const asked = copies.map(({ copyId, classId }) => ({
      ...{ copyId, classId },
      holderIds: (holders.get(copyId) ?? []).map(({ personId }) => personId),
    }))
    return new Set((await this.shownOf(viewer, asked)).map(({ copyId }) => copyId))
  }

  private async titleOf(viewer: Viewer, { handoutId, classId, studentId }: SavedOf): Promise<string> {
    const school = inSchool(this.source, viewer.schoolId)
    if (handoutId !== null) {
      const [found] = await school.find(Handout, { id: handoutId }, { select: ['number', 'title'] })
      return `No. ${found!.number} ${found!.title}`
    }
    if (classId !== null) {
      const [found] = await school.find(Class, { id: classId }, { select: ['name'] })
      return found!.name
    }
    const [found] = await school.find(Person, { id: studentId! }, { select: ['first', 'last'] })
    return `${found!.first} ${found!.last}`.trim()
  }

  /** Sees to it that somebody works on what waits. */
  private wake(): void {
    this.working ??= this.work().finally(() => (this.working = null))
  }

  /** Resolves when nothing waits. */
  async settled(): Promise<void> {
    await this.working
  }

  private async work(): Promise<void> {
    while (!this.isStopped)
      try {
        const next = await nextToSave(this.source)
        if (!next) return
        await this.step(next.schoolId, next.id)
      } catch (error) {
        if (this.isStopped) return
        if (!isDatabaseAway(error)) this.log.error(error instanceof Error ? error.stack : String(error))
        await new Promise((resolve) => setTimeout(resolve, PAUSE).unref())
      }
  }

  /** Saves the next copy: of those who wait each gets one after the other. */
  private async step(schoolId: string, id: string): Promise<void> {
    const [saved] = await inSchool(this.source, schoolId).find(
      SavedCopies,
      { id },
      { select: ['personId', 'format', 'copies', 'done', 'size'] },
    )
    const copy = saved?.copies[saved.done]
    if (!saved || !copy) return
    const { done: place } = saved
    let bytes: Uint8Array | null = null
    let why = ''
    if (saved.size >= SAVED_LIMITS.size) why = 'All together they are too large: save fewer copies at once.'
    else
      try {
        const role = await roleInSchool(this.source, schoolId, saved.personId)
        if (!role) throw notThere()
        const viewer = { schoolId, personId: saved.personId, role }
        ;({ bytes } = await this.out.write(viewer, copy.copyId, saved.format))
      } catch (error) {
        if (isDatabaseAway(error)) throw error
        why = this.whyNot(error)
      }
    await this.source.transaction(async (tx) => {
      const failed = bytes ? null : { place, name: copy.name, why }
      const isCounted = await countSaved(tx, schoolId, { id, place, size: bytes?.length ?? 0, failed })
      if (isCounted > 0 && bytes)
        await inSchool(tx, schoolId).insert(SavedCopiesFile, { savedId: id, place, bytes: Buffer.from(bytes) })
    })
  }

  /** Why a copy could not be saved, in a sentence: whatever it is, the others wait no longer for it. */
  private whyNot(error: unknown): string {
    if (!(error instanceof ProblemException)) {
      this.log.error(error instanceof Error ? error.stack : String(error))
      return 'It could not be made into a document.'
    }
    return error.getStatus() === 404 ? 'It is not there for you any more.' : error.message
  }

  private async sweep(): Promise<void> {
    await dropOldSaved(this.source, new Date(Date.now() - SAVED_LIMITS.keptFor))
  }
}

/** Copies with the names of their files: each as it is called, in a folder of its handout where there are several. */
function filesOf(copies: readonly CopyFound[], of: SavedOf, format: CopyFormat): CopyToSave[] {
  const taken = new Set<string>()
  return copies.map(({ copyId, classId, title, handout, number }) => {
    const folder = of.handoutId === null ? `${cleanTitle(`No. ${number} ${handout}`, 'handout')}/` : ''
    const plain = `${folder}${cleanTitle(title, 'copy')}`
    let name = `${plain}.${format}`
    // File systems that do not tell capitals apart would write one over the other.
    for (let again = 2; taken.has(name.toLowerCase()); again++) name = `${plain} (${again}).${format}`
    taken.add(name.toLowerCase())
    return { copyId, classId, name }
  })
}
