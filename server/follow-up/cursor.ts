import { problem } from '#server/problem'

/** A place in a list that is ordered by time and id. Opaque to whoever carries it. */
export interface Cursor {
  at: string
  id: string
}

export const writeCursor = (c: Cursor): string => Buffer.from(`${c.at} ${c.id}`).toString('base64url')

/** @throws 422 when it is not one that `writeCursor` made */
export function readCursor(text: string | undefined): Cursor | null {
  if (text === undefined) return null
  const [, at, id] =
    /^([1-9]\d{3}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{6}Z) ([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})$/.exec(
      Buffer.from(text, 'base64url').toString(),
    ) ?? []
  if (!at || !id || !isMoment(at))
    throw problem(422, 'The query cannot be read; see the list.', [
      { field: 'cursor', message: 'Send the `next` of the page before, unchanged.' },
    ])
  return { at, id }
}

/** A moment that the calendar has: 30 February is none, which `Date.parse` takes for 1 March. */
const isMoment = (at: string): boolean => {
  const ms = Date.parse(`${at.slice(0, 23)}Z`)
  return !Number.isNaN(ms) && new Date(ms).toISOString().slice(0, 23) === at.slice(0, 23)
}
