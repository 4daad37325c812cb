import { type Statement, type Viewer, checkStatement, cleanText, mayTeach, recipeOf } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { hold } from '../access/viewer.js'
import { keptStatement } from '../slip/keptStatement.js'
import { inSchool } from '../database/inSchool.js'
import { Recipe } from '../slip/slip.entity.js'

const NAME_LIMIT = 80
const RECIPE_LIMIT = 100

/** Shapes of handouts that a teacher keeps for use with other worksheets. */
@Injectable()
export class RecipeService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  async list(viewer: Viewer): Promise<{ id: string; name: string; statement: Statement }[]> {
    hold(mayTeach(viewer))
    const rows = await inSchool(this.source, viewer.schoolId).find(
      Recipe,
      { personId: viewer.personId },
      { select: ['id', 'name', 'statement'], order: { name: 'ASC', createdAt: 'ASC' } },
    )
    return rows.map((row) => ({ ...row, statement: keptStatement(row.statement) }))
  }

  async add(viewer: Viewer, input: { name: string; statement: unknown }) {
    hold(mayTeach(viewer))
    const name = cleanText(input.name)
    if (!name || name.length > NAME_LIMIT)
      throw malformed([
        { code: 'recipe-name', field: 'name', sentence: `Give the recipe a name of up to ${NAME_LIMIT} characters.` },
      ])
    const statement = recipeOf(valueOf(checkStatement(input.statement)))
    const known = await this.list(viewer)
    if (known.length >= RECIPE_LIMIT)
      throw conflict('too-many-recipes', `You have ${RECIPE_LIMIT} recipes: throw one away first.`)
    await inSchool(this.source, viewer.schoolId).insert(Recipe, {
      id: randomUUID(),
      personId: viewer.personId,
      name,
      statement,
    })
    return this.list(viewer)
  }

  async remove(viewer: Viewer, id: string): Promise<void> {
    hold(mayTeach(viewer))
    const removed = await inSchool(this.source, viewer.schoolId).delete(Recipe, { personId: viewer.personId, id })
    if (removed === 0) throw notThere()
  }
}
