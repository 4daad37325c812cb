import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import ts from 'typescript'
import { formatted } from './lib/formatted.mjs'
import { ROOT, Stop, main } from './lib/run.mjs'

// The contract between server and browser, read off what the controllers give: the compiler's own types of their answers, as
// JSON Schema for the description of the API and as types for the browser. Nothing of it is written by hand.

const SOURCE = join(ROOT, 'server/src')
const METHODS = { Get: 'get', Post: 'post', Put: 'put', Patch: 'patch', Delete: 'delete' }
/** What a response holds that is no JSON. */
const FILES = new Set(['StreamableFile'])

const decoratorOf = (node, names) =>
  (ts.getDecorators(node) ?? [])
    .map(({ expression }) => expression)
    .find((call) => ts.isCallExpression(call) && names.includes(call.expression.getText()))
const textOf = (call) => (call?.arguments[0] && ts.isStringLiteral(call.arguments[0]) ? call.arguments[0].text : '')

/** Turns types into schemas; types with a name of ours stand once, under it. */
class Schemas {
  components = {}
  /** Names to the type that stands under them: two of one name would be one. */
  names = new Map()

  constructor(checker) {
    this.checker = checker
  }

  /** @param where for whoever has to mend it */
  of(type, where) {
    const named = this.nameOf(type)
    if (!named) return this.plain(type, where)
    const known = this.names.get(named.name)
    if (known && known !== type && this.checker.typeToString(known) !== this.checker.typeToString(type))
      throw new Stop(`${where}: there are two types called ${named.name}.`)
    if (!known) {
      this.names.set(named.name, type)
      this.components[named.name] = {}
      this.components[named.name] = {
        ...(named.about && { description: named.about }),
        ...(named.isCore && { 'x-core': true }),
        ...this.plain(type, named.name),
      }
    }
    return { $ref: `#/components/schemas/${named.name}` }
  }

  nameOf(type) {
    if (type.aliasSymbol && !type.aliasTypeArguments) return this.named(type.aliasSymbol)
    const symbol = type.getSymbol()
    if (!symbol || !(symbol.flags & (ts.SymbolFlags.Interface | ts.SymbolFlags.Class)) || type.typeArguments?.length)
      return null
    return this.named(symbol)
  }

  named(symbol) {
    const file = symbol.declarations?.[0]?.getSourceFile().fileName ?? ''
    const isCore = file.startsWith(join(ROOT, 'core/'))
    if (!isCore && !file.startsWith(SOURCE)) return null
    const about = ts.displayPartsToString(symbol.getDocumentationComment(this.checker))
    return { name: symbol.name, isCore, about }
  }

  plain(type, where) {
    const { flags } = type
    if (flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown)) return {}
    if (flags & ts.TypeFlags.Never) return { not: {} }
    if (flags & ts.TypeFlags.Null) return { type: 'null' }
    if (flags & ts.TypeFlags.StringLiteral || flags & ts.TypeFlags.NumberLiteral) return { const: type.value }
    if (flags & ts.TypeFlags.BooleanLiteral) return { const: type.intrinsicName === 'true' }
    if (flags & ts.TypeFlags.StringLike) return { type: 'string' }
    if (flags & ts.TypeFlags.NumberLike) return { type: 'number' }
    if (flags & ts.TypeFlags.BooleanLike) return { type: 'boolean' }
    if (flags & ts.TypeFlags.NonPrimitive) return { type: 'object' }
    if (type.isUnion()) return this.union(type, where)
    if (this.checker.isTupleType(type)) {
      const items = this.checker.getTypeArguments(type).map((item) => this.of(item, where))
      return { type: 'array', prefixItems: items, minItems: items.length, maxItems: items.length }
    }
    if (this.checker.isArrayType(type))
      return { type: 'array', items: this.of(this.checker.getTypeArguments(type)[0], where) }
    if (flags & ts.TypeFlags.Object || type.isIntersection()) return this.object(type, where)
    throw new Stop(`${where}: what JSON is ${this.checker.typeToString(type)}?`)
  }

  union(type, where) {
    const parts = type.types.filter(({ flags }) => !(flags & ts.TypeFlags.Undefined))
    if (parts.length === 1) return this.of(parts[0], where)
    const literals = parts.filter((part) => part.isStringLiteral())
    const isYesNo = parts.filter(({ flags }) => flags & ts.TypeFlags.BooleanLiteral).length === 2
    const others = parts.filter(
      (part) => !part.isStringLiteral() && !(isYesNo && part.flags & ts.TypeFlags.BooleanLiteral),
    )
    const schemas = [
      ...(literals.length > 0 ? [{ enum: literals.map(({ value }) => value).sort() }] : []),
      ...(isYesNo ? [{ type: 'boolean' }] : []),
      ...others.map((part) => this.of(part, where)),
    ]
    return schemas.length === 1 ? schemas[0] : { anyOf: schemas }
  }

  object(type, where) {
    const name = type.getSymbol()?.name
    if (['Date', 'Map', 'Set', 'ReadonlyMap', 'ReadonlySet', 'Buffer', 'Uint8Array', 'Promise'].includes(name))
      throw new Stop(`${where}: a ${name} is nothing in JSON.`)
    const properties = {}
    const required = []
    for (const property of this.checker.getPropertiesOfType(type)) {
      const of = this.checker.getTypeOfSymbol(property)
      if (of.getCallSignatures().length > 0) throw new Stop(`${where}.${property.name} is a function.`)
      const about = ts.displayPartsToString(property.getDocumentationComment(this.checker))
      const schema = this.of(of, `${where}.${property.name}`)
      properties[property.name] = about ? { description: about, ...schema } : schema
      const mayMiss =
        property.flags & ts.SymbolFlags.Optional ||
        (of.isUnion() && of.types.some(({ flags }) => flags & ts.TypeFlags.Undefined))
      if (!mayMiss) required.push(property.name)
    }
    const rest = this.checker.getIndexInfoOfType(type, ts.IndexKind.String)
    return {
      type: 'object',
      ...(Object.keys(properties).length > 0 && { properties }),
      ...(required.length > 0 && { required }),
      additionalProperties: rest ? this.of(rest.type, where) : false,
    }
  }
}

/** Every route of the controllers: its address and the schema of its answer. */
function readRoutes() {
  const config = ts.readConfigFile(join(ROOT, 'server/tsconfig.json'), ts.sys.readFile)
  const { fileNames, options } = ts.parseJsonConfigFileContent(config.config, ts.sys, join(ROOT, 'server'))
  const program = ts.createProgram(fileNames, { ...options, noEmit: true, composite: false, incremental: false })
  const checker = program.getTypeChecker()
  const schemas = new Schemas(checker)
  const routes = []
  for (const file of program.getSourceFiles().filter(({ fileName }) => fileName.endsWith('.controller.ts')))
    for (const controller of file.statements.filter(ts.isClassDeclaration)) {
      const base = textOf(decoratorOf(controller, ['Controller']))
      for (const method of controller.members.filter(ts.isMethodDeclaration)) {
        const call = decoratorOf(method, Object.keys(METHODS))
        if (!call) continue
        const way = METHODS[call.expression.getText()]
        const path = [base, textOf(call)]
          .filter(Boolean)
          .join('/')
          .replace(/:(\w+)/g, '{$1}')
        const where = `${way.toUpperCase()} ${path}`
        const signature = checker.getSignatureFromDeclaration(method)
        const type = checker.getAwaitedType(checker.getReturnTypeOfSignature(signature))
        const writesItself = method.parameters.some((parameter) => {
          const response = decoratorOf(parameter, ['Res'])
          return response && response.arguments.length === 0
        })
        const isFile = writesItself || FILES.has(type.getSymbol()?.name ?? '')
        const isNothing = Boolean(type.flags & (ts.TypeFlags.Void | ts.TypeFlags.Undefined))
        const body = method.parameters.find((parameter) => decoratorOf(parameter, ['Body']))
        routes.push({
          way,
          path,
          ...(body && { body: schemas.of(checker.getTypeAtLocation(body), `the body of ${where}`) }),
          answer: isFile ? 'file' : isNothing ? null : schemas.of(type, where),
        })
      }
    }
  routes.sort((one, other) => (`${one.path} ${one.way}` < `${other.path} ${other.way}` ? -1 : 1))
  return { routes, components: schemas.components }
}

/** A schema as a type of TypeScript. */
function typeOf(schema) {
  if (schema.$ref) return schema.$ref.split('/').at(-1)
  if (schema.not) return 'never'
  if ('const' in schema) return JSON.stringify(schema.const)
  if (schema.enum) return schema.enum.map((value) => JSON.stringify(value)).join(' | ')
  if (schema.anyOf) return schema.anyOf.map((part) => typeOf(part)).join(' | ')
  switch (schema.type) {
    case 'null':
    case 'string':
    case 'number':
    case 'boolean':
      return schema.type
    case 'array':
      return schema.prefixItems
        ? `readonly [${schema.prefixItems.map((item) => typeOf(item)).join(', ')}]`
        : `readonly (${typeOf(schema.items)})[]`
    case 'object': {
      const { properties = {}, required = [], additionalProperties } = schema
      const parts = Object.entries(properties).map(
        ([name, property]) =>
          `${aboutOf(property)}readonly ${/^\w+$/.test(name) ? name : JSON.stringify(name)}${required.includes(name) ? '' : '?'}: ${typeOf(property)}`,
      )
      if (additionalProperties) parts.push(`readonly [key: string]: ${typeOf(additionalProperties)}`)
      return parts.length > 0 || additionalProperties === false ? `{ ${parts.join('\n')} }` : 'object'
    }
    default:
      return 'unknown'
  }
}

const aboutOf = ({ description }) => (description ? `/** ${description.replaceAll('\n', ' ')} */\n` : '')

/** The types of the browser: those of the core from the core, the server's as they are, and what each address answers. */
function typesOf({ routes, components }) {
  const core = Object.keys(components).filter((name) => components[name]['x-core'])
  // What is only inside of the core's types is not spoken of here.
  const spoken = new Set()
  const visit = (schema) => {
    if (typeof schema !== 'object' || schema === null) return
    if (schema.$ref) {
      const name = schema.$ref.split('/').at(-1)
      if (spoken.has(name)) return
      spoken.add(name)
      if (!components[name]['x-core']) visit(components[name])
      return
    }
    Object.values(schema).forEach(visit)
  }
  routes.forEach(({ answer, body }) => [answer, body].forEach(visit))
  const own = Object.entries(components).filter(([name, schema]) => !schema['x-core'] && spoken.has(name))
  return [
    '// Made by scripts/contract.mjs out of what the controllers of the server give. Not to be written in.',
    `import type { ${core
      .filter((name) => spoken.has(name))
      .sort()
      .join(', ')} } from '@gavrin/core'`,
    ...own.map(([name, schema]) => `${aboutOf(schema)}export type ${name} = ${typeOf(schema)}`),
    `/** What each address answers. */\nexport interface Answers {\n${routes
      .filter(({ answer }) => answer !== 'file')
      .map(
        ({ way, path, answer }) =>
          `'${way.toUpperCase()} ${path}': ${answer ? typeOf(answer).replace(/^readonly (?=\()/, '') : 'undefined'}`,
      )
      .join('\n')}\n}`,
    `/** What is sent to each address. */\nexport interface Bodies {\n${routes
      .filter(({ body }) => body)
      .map(({ way, path, body }) => `'${way.toUpperCase()} ${path}': ${typeOf(body)}`)
      .join('\n')}\n}`,
  ].join('\n\n')
}

/** Reads the contract and writes it down for the server (beside its code) and for the browser. */
export async function contract() {
  const found = readRoutes()
  keep(join(ROOT, 'server/dist/contract.json'), JSON.stringify(found))
  const file = join(ROOT, 'web/src/contract.ts')
  keep(file, await formatted(file, typesOf(found)))
  return found
}

/** Leaves untouched what has not changed: it may be read at the moment, or watched. */
function keep(file, text) {
  if (readFileSync(file, { encoding: 'utf8', flag: 'a+' }) !== text) writeFileSync(file, text)
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) await main(contract)
