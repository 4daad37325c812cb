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

/** Bytes that a browser sends to the end though the page is left (Fetch Standard: 64 KiB for all that is under way). */
const SENT_AT_LEAVING = 60_000

async function answerTo(method: string, path: string, body?: unknown, atLeaving = false): Promise<Response> {
  const json = body === undefined || body instanceof Uint8Array ? null : JSON.stringify(body)
  try {
    return await fetch(`/api/${path}`, {
      method,
      credentials: 'same-origin',
      ...(body instanceof Uint8Array
        ? { headers: { 'Content-Type': 'application/octet-stream' }, body: body as Uint8Array<ArrayBuffer> }
        : json !== null && { headers: { 'Content-Type': 'application/json' }, body: json }),
      ...(atLeaving && json !== null && new Blob([json]).size < SENT_AT_LEAVING && { keepalive: true }),
    })
  } catch {
    throw new ApiError(
      0,
      'no-connection',
      'There is no connection to Gavrin. What you typed is still here: try again in a moment.',
    )
  }
}

/** How often it is asked again when others are before one. */
const TURNS = 60

async function request<T>(method: string, path: string, body?: unknown, atLeaving = false, asked = 0): Promise<T> {
  const response = await answerTo(method, path, body, atLeaving)
  if (response.status === 204) return undefined as T
  const text = await response.text()
  let read: unknown = null
  try {
    read = text ? (JSON.parse(text) as unknown) : null
  } catch {
    // Said below: not an answer of ours.
  }
  if (response.ok) return read as T
  const problem = problemOf(response, read)
  if (problem.code !== 'wait-your-turn' || asked >= TURNS) throw problem
  // Heavy work is done in turns; this one has not come to its own yet.
  await new Promise((resolve) => setTimeout(resolve, Number(problem.more['retryAfter'] ?? 3) * 1_000))
  return request<T>(method, path, body, atLeaving, asked + 1)
}

function problemOf(response: Response, read: unknown): ApiError {
  const problem = (typeof read === 'object' && read !== null ? read : {}) as ProblemDetails
  if (response.status === 401 && problem.code === 'not-signed-in') window.dispatchEvent(new Event('gavrin:signed-out'))
  return new ApiError(
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
  /** Goes on though the page is left, if it is small enough for that. */
  putThrough: <T>(path: string, body: unknown) => request<T>('PUT', path, body, true),
  patch: <T>(path: string, body: unknown) => request<T>('PATCH', path, body),
  delete: <T>(path: string) => request<T>('DELETE', path),
}

/** The bytes of an answer that is no JSON, and the query of the address that goes on from it, if it is one of several. */
export async function bytesOf(path: string): Promise<{ readonly bytes: Uint8Array; readonly next: string | null }> {
  const response = await answerTo('GET', path)
  if (!response.ok) throw problemOf(response, await response.json().catch(() => null))
  const next = /<[^>?]*\?([^>]*)>; rel="next"/.exec(response.headers.get('link') ?? '')?.[1]
  return { bytes: new Uint8Array(await response.arrayBuffer()), next: next ?? null }
}

/** Asks for a file and has the browser save it under the name the server gives it. */
export async function saveFile(path: string, body: unknown = {}): Promise<void> {
  const response = await answerTo('POST', path, body)
  if (!response.ok) throw problemOf(response, await response.json().catch(() => null))
  const named = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get('content-disposition') ?? '')?.[1]
  const address = URL.createObjectURL(await response.blob())
  const link = document.createElement('a')
  link.href = address
  link.download = named ? decodeURIComponent(named) : 'file'
  link.click()
  setTimeout(() => URL.revokeObjectURL(address), 60_000)
}

/** The sentence of an error, whatever it is. */
export function sentenceOf(error: unknown): string {
  return error instanceof ApiError
    ? error.message
    : 'Something broke in this page. Load it again; what was saved is safe.'
}
