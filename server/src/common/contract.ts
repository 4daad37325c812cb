import type { OpenAPIObject } from '@nestjs/swagger'
import { readFileSync } from 'node:fs'

/** A schema of JSON (2020-12), as OpenAPI 3.1 has them. */
export type Schema = Readonly<Record<string, unknown>>

/** What the controllers answer, as `scripts/contract.mjs` read it off their types when the server was built. */
export interface Contract {
  readonly routes: readonly {
    readonly way: 'get' | 'post' | 'put' | 'patch' | 'delete'
    /** Without `/api/`, with `{names}` of its parts. */
    readonly path: string
    /** `file`: what is no JSON; null: nothing. */
    readonly answer: Schema | 'file' | null
  }[]
  /** Types that have a name. */
  readonly components: Readonly<Record<string, Schema>>
}

export const readContract = (): Contract =>
  JSON.parse(readFileSync(new URL('../contract.json', import.meta.url), 'utf8')) as Contract

/** Problem details (RFC 9457). */
const PROBLEM: Schema = {
  description: 'What went wrong, as problem details (RFC 9457).',
  type: 'object',
  required: ['type', 'title', 'status', 'detail', 'code'],
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'number' },
    /** One sentence for whoever reads it. */
    detail: { type: 'string' },
    code: { type: 'string' },
    errors: {
      description: 'What is wrong with single fields.',
      type: 'array',
      items: {
        type: 'object',
        required: ['code', 'sentence'],
        properties: { code: { type: 'string' }, field: { type: 'string' }, sentence: { type: 'string' } },
      },
    },
  },
}

interface Described {
  description?: string
  content?: Record<string, { schema: Schema }>
}

/** Says of every operation of a description what it answers, and what when something is wrong. */
export function describeAnswers(document: OpenAPIObject, { routes, components }: Contract): OpenAPIObject {
  const paths = document.paths as Record<string, Record<string, { responses: Record<string, Described> }>>
  for (const { way, path, answer } of routes) {
    const operation = paths[`/api/${path}`]?.[way]
    if (!operation) throw new Error(`The contract speaks of ${way} ${path}: build the server anew.`)
    const { responses } = operation
    const success = Object.keys(responses).find((status) => status.startsWith('2')) ?? '200'
    const content: Described['content'] =
      answer === null
        ? undefined
        : answer === 'file'
          ? { 'application/octet-stream': { schema: { type: 'string', contentEncoding: 'binary' } } }
          : { 'application/json': { schema: answer } }
    operation.responses = {
      [success]: { description: 'Done.', ...(content && { content }) },
      default: {
        description: 'Refused.',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/ProblemDetails' } } },
      },
    }
  }
  // Of what is sent the classes say more: limits, forms.
  const schemas = { ...components, ...document.components?.schemas, ProblemDetails: PROBLEM }
  return {
    ...document,
    openapi: '3.1.0',
    components: { ...document.components, schemas: schemas },
  }
}
