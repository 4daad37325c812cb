/**
 * An answer of which parts are JSON already, as text; a controller that gives it says `@Header(...JSON_TEXT)`. It is typed as what it
 * says, for that is what comes out of it.
 * @param written the parts that are JSON, by their names
 */
export function written<Rest extends object, Parts>(rest: Rest, parts: { readonly [Name in keyof Parts]: string }) {
  const all = [
    ...Object.entries(rest).map(([name, value]) => [name, JSON.stringify(value)]),
    ...Object.entries<string>(parts),
  ].filter(([, value]) => value !== undefined)
  return `{${all.map(([name, value]) => `${JSON.stringify(name)}:${value}`).join()}}` as unknown as Rest & Parts
}

export const JSON_TEXT = ['content-type', 'application/json; charset=utf-8'] as const
