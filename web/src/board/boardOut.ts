import type { Bodies } from '../contract'

/** What is asked for a board as a file: its copies, or all; its rows, or the answer grid of a worksheet. */
export const boardOut = (handoutId: string, body: Bodies['POST handouts/{handoutId}/board/out/{format}']) => ({
  path: `handouts/${handoutId}/board/out`,
  body,
})
