import type { Problem } from '@gavrin/core'

/** An answer that is no success: problem details (RFC 9457), or what stands for them when nothing came back at all. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
    readonly errors: readonly Problem[] = [],
    readonly more: Readonly<Record<string, unknown>> = {},
  ) {
    super(sentence)
  }
}

interface ProblemDetails {
  readonly detail?: string
  readonly code?: string
  readonly errors?: readonly Problem[]
  readonly [key: string]: unknown
}

async function request<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response
  try {
    response = await fetch(`/api/${path}`, {
      method,
      credentials: 'same-origin',
      ...(body !== undefined && { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    })
  } catch {
    throw new ApiError(
      0,
      'no-connection',
      'There is no connection to Gavrin. What you typed is still here: try again in a moment.',
    )
  }
  if (response.status === 204) return undefined as T
  const text = await response.text()
  let read: unknown = null
  try {
    read = text ? (JSON.parse(text) as unknown) : null
  } catch {
    // Said below: not an answer of ours.
  }
  if (response.ok) return read as T
  const problem = (typeof read === 'object' && read !== null ? read : {}) as ProblemDetails
  if (response.status === 401 && problem.code === 'not-signed-in') window.dispatchEvent(new Event('gavrin:signed-out'))
  throw new ApiError(
    response.status,
    problem.code ?? 'unknown',
    problem.detail ?? 'Gavrin did not answer properly. Try again in a moment.',
    problem.errors ?? [],
    problem,
  )
}

export const api = {
  get: <T>(path: string) => request<T>('GET', path),
  post: <T>(path: string, body?: unknown) => request<T>('POST', path, body),
  put: <T>(path: string, body: unknown) => request<T>('PUT', path, body),
  delete: <T>(path: string) => request<T>('DELETE', path),
}

/** The sentence of an error, whatever it is. */
export function sentenceOf(error: unknown): string {
  return error instanceof ApiError
    ? error.message
    : 'Something broke in this page. Load it again; what was saved is safe.'
}
