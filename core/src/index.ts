export * from './errors/problem.js'
export * from './roster/names.js'
export * from './roster/email.js'
export * from './roster/parse.js'
export * from './roster/check.js'
export * from './worksheet/content.js'
export * from './worksheet/check.js'
export {
  COPY_NAME_LIMIT,
  DEFAULT_PATTERN,
  NAME_TOKENS,
  checkPattern,
  literal,
  nameFrom,
  resolveClashes,
  token,
  type NamePattern,
  type NameToken,
  type NameValues,
  type PatternPart,
} from './naming/pattern.js'
export * from './handout/statement.js'
export * from './handout/plan.js'
export * from './handout/changes.js'
export * from './access/permission.js'
export * from './access/viewer.js'
export * from './access/school.js'
export * from './access/copy.js'
export * from './progress/journal.js'
export * from './progress/answers.js'
export * from './live/space.js'
export * from './live/updateFormat.js'
export * from './live/inspect.js'
export * from './live/protocol.js'
