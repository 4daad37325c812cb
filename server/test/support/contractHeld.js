import { Ajv2020 } from 'ajv/dist/2020.js'
import { map } from 'rxjs'
import { readContract } from '../../dist/common/contract.js'

const METHODS = ['get', 'post', 'put', 'delete', 'patch']
const { routes, components } = readContract()
const ajv = new Ajv2020({ strict: false, allErrors: true })
ajv.addSchema({ $id: 'contract', components: { schemas: components } })
/** The checks of answers, by way and path. */
const checks = new Map(
  routes
    .filter(({ answer }) => answer !== 'file' && answer !== null)
    .map(({ way, path, answer }) => [`${way} ${path}`, ajv.compile(within(answer))]),
)

/** All routes: one that the contract does not know would go unheld. */
const known = new Set(routes.map(({ way, path }) => `${way} ${path}`))

/** The schema with its names looked up in the contract. */
function within(schema) {
  return JSON.parse(JSON.stringify(schema).replaceAll('"#/components', '"contract#/components'))
}

const pathOf = (target) => [Reflect.getMetadata('path', target)].flat()[0] ?? ''

/**
 * Holds every answer of an application against the contract: what is in it that no type speaks of, or is not of its type, is
 * an error of the server.
 */
export class ContractHeld {
  intercept(context, next) {
    const handler = context.getHandler()
    const way = METHODS[Reflect.getMetadata('method', handler)] ?? 'get'
    const path = [pathOf(context.getClass()), pathOf(handler)]
      .flatMap((part) => part.split('/'))
      .filter(Boolean)
      .join('/')
      .replaceAll(/:(\w+)/g, '{$1}')
    if (!known.has(`${way} ${path}`)) throw new Error(`${way} ${path} is not in the contract.`)
    const check = checks.get(`${way} ${path}`)
    return next.handle().pipe(
      map((answer) => {
        if (!check || answer === undefined) return answer
        const sent = JSON.parse(JSON.stringify(answer))
        if (check(sent)) return answer
        const wrong = check.errors
          .slice(0, 5)
          .map(({ instancePath, message, params }) => `${instancePath} ${message} ${JSON.stringify(params)}`)
        throw new Error(`${way} ${path} answers against the contract: ${wrong.join('; ')}`)
      }),
    )
  }
}
