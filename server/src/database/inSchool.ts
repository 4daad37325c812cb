import {
  type DataSource,
  EntityManager,
  type EntityTarget,
  type FindOperator,
  type FindOptionsWhere,
  type InsertQueryBuilder,
  IsNull,
  type ObjectLiteral,
  type QueryDeepPartialEntity,
} from 'typeorm'

/** A connection, or a transaction on one. */
export type Database = DataSource | EntityManager

/** Which rows: a value, or one of TypeORM's conditions such as `In(…)`, for columns. Null is a value like others. */
export type Which<E> = { readonly [K in keyof E]?: E[K] | FindOperator<NonNullable<E[K]>> }

interface Finding<E, K extends keyof E> {
  /** Only these columns. */
  readonly select?: readonly K[]
  readonly order?: { readonly [P in keyof E]?: 'ASC' | 'DESC' }
  /** No more than these. */
  readonly most?: number
  /** Nobody else changes them before the transaction ends. */
  readonly lock?: boolean
}

type NewRow<E> = { readonly [K in keyof Omit<E, 'schoolId'>]?: E[K] | (() => string) }
type NewRows<E> = NewRow<E> | readonly NewRow<E>[]

interface OfSchool extends ObjectLiteral {
  schoolId: string
}

/** The rows of one school. What is read and written through it cannot be another's, as nobody else says which school. */
export class SchoolRows {
  private readonly manager: EntityManager

  constructor(
    database: Database,
    private readonly schoolId: string,
  ) {
    this.manager = database instanceof EntityManager ? database : database.manager
  }

  async find<E extends OfSchool, K extends keyof E & string = keyof E & string>(
    entity: EntityTarget<E>,
    which: Which<E>,
    { select, order, most, lock = false }: Finding<E, K> = {},
  ): Promise<Pick<E, K>[]> {
    const { primaryColumns } = this.manager.connection.getMetadata(entity)
    // The key too: of a row in which all that is asked for is null TypeORM would say that there is none.
    const columns = select && [...primaryColumns.map(({ propertyName }) => propertyName), ...select]
    const rows = await this.manager.find(entity, {
      where: this.of(which),
      ...(columns && { select: Object.fromEntries(columns.map((column) => [column, true])) as never }),
      ...(order && { order: order as never }),
      ...(most && { take: most }),
      ...(lock && { lock: { mode: 'pessimistic_write' } }),
    })
    if (!select) return rows
    return rows.map((row) => Object.fromEntries(select.map((column) => [column, row[column]])) as Pick<E, K>)
  }

  async exists<E extends OfSchool>(entity: EntityTarget<E>, which: Which<E>): Promise<boolean> {
    return this.manager.exists(entity, { where: this.of(which) })
  }

  count<E extends OfSchool>(entity: EntityTarget<E>, which: Which<E>): Promise<number> {
    return this.manager.count(entity, { where: this.of(which) })
  }

  /** Holds a row until the transaction ends: nobody else changes it, others may still point to it. */
  async hold<E extends OfSchool>(entity: EntityTarget<E>, which: Which<E>): Promise<void> {
    const [key] = this.manager.connection.getMetadata(entity).primaryColumns
    await this.manager
      .createQueryBuilder(entity, 'held')
      .select(`held.${key!.propertyName}`)
      .where(this.of(which))
      .setLock('for_no_key_update')
      .getRawMany()
  }

  async insert<E extends OfSchool>(entity: EntityTarget<E>, rows: NewRows<E>): Promise<void> {
    await this.inserting(entity, rows).execute()
  }

  /** Puts in what is not there yet. */
  async insertMissing<E extends OfSchool>(entity: EntityTarget<E>, rows: NewRows<E>): Promise<void> {
    await this.inserting(entity, rows).orIgnore().execute()
  }

  /** Puts in rows, or where there is one of the same key changes these columns of it. */
  async put<E extends OfSchool>(
    entity: EntityTarget<E>,
    rows: NewRows<E>,
    change: readonly (keyof E & string)[],
  ): Promise<void> {
    const { primaryColumns, columns } = this.manager.connection.getMetadata(entity)
    const named = columns.filter(({ propertyName }) => change.includes(propertyName))
    await this.inserting(entity, rows)
      .orUpdate(
        named.map(({ databaseName }) => databaseName),
        primaryColumns.map(({ databaseName }) => databaseName),
      )
      .execute()
  }

  private inserting<E extends OfSchool>(entity: EntityTarget<E>, rows: NewRows<E>): InsertQueryBuilder<E> {
    const all = (Array.isArray(rows) ? rows : [rows]).map((row: object) => ({ ...row, schoolId: this.schoolId }))
    return this.manager
      .createQueryBuilder()
      .insert()
      .into(entity)
      .values(all as unknown as QueryDeepPartialEntity<E>[])
      .updateEntity(false)
  }

  /** How many rows it changed. */
  async update<E extends OfSchool>(
    entity: EntityTarget<E>,
    which: Which<E>,
    to: { readonly [K in keyof Omit<E, 'schoolId'>]?: E[K] | (() => string) },
  ): Promise<number> {
    const { affected } = await this.manager.update(entity, this.of(which), to as QueryDeepPartialEntity<E>)
    return affected ?? 0
  }

  /** How many rows it deleted. */
  async delete<E extends OfSchool>(entity: EntityTarget<E>, which: Which<E>): Promise<number> {
    const { affected } = await this.manager.delete(entity, this.of(which))
    return affected ?? 0
  }

  /** Asks in SQL. The first value, `$1`, is the school. */
  rows<Row>(sql: string, ...values: readonly unknown[]): Promise<Row[]> {
    return anySchool(this.manager).rows<Row>(sql, this.schoolId, ...values)
  }

  /** Changes or deletes in SQL; how many rows. The first value, `$1`, is the school. */
  write(sql: string, ...values: readonly unknown[]): Promise<number> {
    return anySchool(this.manager).write(sql, this.schoolId, ...values)
  }

  private of<E extends OfSchool>(which: Which<E>): FindOptionsWhere<E> {
    const conditions = Object.entries(which).map(([column, value]: [string, unknown]) => {
      // TypeORM would pass over it, and find everybody's.
      if (value === undefined) throw new Error(`Which rows? ${column} has no value.`)
      return [column, value === null ? IsNull() : value]
    })
    return { schoolId: this.schoolId, ...Object.fromEntries(conditions) } as FindOptionsWhere<E>
  }
}

/** The way to the rows of a school. */
export const inSchool = (database: Database, schoolId: string): SchoolRows => new SchoolRows(database, schoolId)

/** The way to rows where the school is not known yet, or in all schools: by what a link, a code or a sign-in says. */
export const anySchool = (database: Database) => ({
  async rows<Row>(sql: string, ...values: readonly unknown[]): Promise<Row[]> {
    const found: unknown = await database.query(sql, [...values])
    // For a change TypeORM gives the rows and how many.
    return (isChange(found) ? found[0] : found) as Row[]
  },

  async write(sql: string, ...values: readonly unknown[]): Promise<number> {
    const found: unknown = await database.query(sql, [...values])
    return isChange(found) ? found[1] : 0
  },
})

const isChange = (found: unknown): found is [unknown[], number] =>
  Array.isArray(found) && found.length === 2 && Array.isArray(found[0]) && typeof found[1] === 'number'

/** From here on in this transaction nobody else does anything under the same word. */
export async function oneAtATime(tx: EntityManager, word: string): Promise<void> {
  await tx.query('SELECT pg_advisory_xact_lock(hashtextextended($1, 0))', [word])
}

/** Resolves when the database answers. */
export async function answers(source: DataSource): Promise<void> {
  await source.query('SELECT 1')
}
