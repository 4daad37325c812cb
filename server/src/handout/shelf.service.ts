import { type HandoutItem, type Viewer, checkStatement, linkTitle, mayInClass, plainStatement } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, type EntityManager } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { conflict, malformed } from '../common/problemDetails.js'
import { hold } from '../access/viewer.js'
import { classRole, holdInClass } from '../access/classRole.js'
import { Handout } from '../slip/slip.entity.js'
import { HandOutRuns } from '../handOut/handOutRuns.js'
import { addHandout, refuseForeignWorksheets, writeStatement } from '../slip/handoutSet.js'
import { planWorksheets, worksheetsOf } from '../slip/planFacts.js'
import { inSchool } from '../database/inSchool.js'
import { Class } from '../access/access.entity.js'
import { copiesOnShelf } from './handout.queries.js'

/**
 * The shelf of a class: a handout that is always out, with items to read and items to work on together. Nothing of it has a
 * way of its own; putting something on it hands it out.
 */
@Injectable()
export class ShelfService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly runs: HandOutRuns,
  ) {}

  /** What is on the shelf, for its staff and its students. */
  async open(viewer: Viewer, classId: string) {
    const { role, archived } = await classRole(this.source, viewer, classId)
    hold(mayInClass(role, 'see the class', archived))
    const shelf = await this.find(this.source.manager, viewer, classId)
    const items = shelf?.statement.items ?? []
    const worksheets = await planWorksheets(this.source, viewer.schoolId, shelf ? worksheetsOf(shelf.statement) : [])
    const copies = shelf ? await copiesOnShelf(this.source, viewer.schoolId, shelf.id, viewer.personId) : []
    return {
      version: shelf?.version ?? 0,
      mayChange: mayInClass(role, 'hand out', archived).may,
      items: items.flatMap((item) => {
        const copy = copies.find(({ item_id }) => item_id === item.id)
        if (role === 'student' && !copy?.mine) return []
        return [
          {
            ...item,
            title: item.link
              ? linkTitle(item.link)
              : (worksheets.find(({ id }) => id === item.worksheetId)?.title ?? ''),
            newest: worksheets.find(({ id }) => id === item.worksheetId)?.editions.at(-1)?.number ?? null,
            copyId: copy?.id ?? null,
            words: copy?.words ?? 0,
            lastActivityAt: copy?.at ?? null,
          },
        ]
      }),
    }
  }

  /** Puts things on the shelf, takes them off, or orders them; handed out at once. What is taken off is set aside. */
  async keep(viewer: Viewer, classId: string, input: { items: unknown; version: number }) {
    const { items } = valueOf(checkStatement({ items: input.items }))
    const odd = items.findIndex(({ way }) => way !== 'to read' && way !== 'one together')
    if (odd >= 0)
      throw malformed([
        {
          code: 'shelf-way',
          field: `items.${odd}.way`,
          sentence: 'What is on the shelf is to read, or to work on together.',
        },
      ])
    const begun = await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'hand out')
      // One at a time makes the shelf.
      await inSchool(tx, viewer.schoolId).hold(Class, { id: classId })
      const known = await this.find(tx, viewer, classId)
      if ((known?.version ?? 0) !== input.version)
        throw conflict('changed-meanwhile', 'A colleague changed the shelf meanwhile: here it is as it is now.')
      const statement = plainStatement(items.map(forAll), [{ classId, opensAt: null, dueAt: null }])
      await refuseForeignWorksheets(tx, viewer, statement, known?.statement ?? null)
      const shelf =
        known ?? (await addHandout(tx, viewer, classId, { title: 'Shelf', statement, setId: null, kind: 'shelf' }))
      if (known) await writeStatement(tx, { ...known, version: known.version + 1 }, statement)
      return this.runs.apply(tx, shelf, viewer.personId, statement)
    })
    if (begun) await this.runs.follow([begun], 5_000)
    return this.open(viewer, classId)
  }

  private find(manager: EntityManager, viewer: Viewer, classId: string): Promise<Handout | null> {
    return manager.findOne(Handout, { where: { schoolId: viewer.schoolId, classId, kind: 'shelf' } })
  }
}

const forAll = (item: HandoutItem): HandoutItem => ({ ...item, audience: { kind: 'all' } })
