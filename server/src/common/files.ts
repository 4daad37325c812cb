import { StreamableFile } from '@nestjs/common'
import type { Request, Response } from 'express'
import { ProblemException } from './problemDetails.js'

/** A text for the value of a header (RFC 8187). */
export const headerValue = (text: string): string =>
  encodeURIComponent(text).replace(/['()*!]/g, (sign) => `%${sign.charCodeAt(0).toString(16).toUpperCase()}`)

const NAME_LIMIT = 200
// oxlint-disable-next-line no-control-regex -- names come from anywhere
const NO_NAME = /[\u0000-\u001F\u007F/\\]/g

/** The name of a file that somebody sent, without folders and signs that no name has; its end is kept, where its kind stands. */
export const cleanFileName = (name: string): string =>
  name.replace(NO_NAME, ' ').replace(/\s+/g, ' ').trim().slice(-NAME_LIMIT) || 'file'

/** A title as the name of a file anywhere, without its end. */
export const cleanTitle = (title: string, otherwise: string): string =>
  title
    // oxlint-disable-next-line no-control-regex -- signs that file systems keep for themselves
    .replace(/[\u0000-\u001F<>:"/\\|?*]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 120)
    .replace(/[. ]+$/, '') || otherwise

/** The bytes of a request. What is larger than `limit` is read to its end, up to eight times as much, and not kept. */
export async function bodyOf(request: Request, limit: number, sentence: string): Promise<Uint8Array> {
  const parts: Buffer[] = []
  let size = 0
  for await (const part of request as AsyncIterable<Buffer>) {
    size += part.length
    if (size <= limit) parts.push(part)
    else if (size > 8 * limit) break
  }
  if (size <= limit) return new Uint8Array(Buffer.concat(parts))
  throw new ProblemException(413, 'file-too-large', sentence)
}

/** A file as an answer, to be saved; under a plain name where a browser knows no other. */
export const asDownload = (
  { name, type, bytes }: { readonly name: string; readonly type: string; readonly bytes: Uint8Array },
  plainName: string,
): StreamableFile =>
  new StreamableFile(bytes, {
    type,
    disposition: `attachment; filename="${plainName}.${name.split('.').at(-1)}"; filename*=UTF-8''${headerValue(name)}`,
  })

/** Sends a picture to be shown; it never changes under its address. */
export function sendPicture(
  response: Response,
  { type, bytes }: { readonly type: string; readonly bytes: Buffer },
): void {
  response.setHeader('Content-Type', type)
  response.setHeader('Cache-Control', 'private, max-age=31536000, immutable')
  response.setHeader('Content-Disposition', 'inline')
  response.send(bytes)
}

/** Sends a file to be saved, never shown as a page of ours. */
export function sendFile(
  response: Response,
  { name, type, bytes }: { readonly name: string; readonly type: string; readonly bytes: Uint8Array },
): void {
  response.setHeader('Content-Type', type)
  response.setHeader('Content-Disposition', `attachment; filename*=UTF-8''${headerValue(name)}`)
  response.send(Buffer.from(bytes))
}
