import { createError, type H3Error } from 'h3'
import type { Flaw } from '#core/flaws'

/** Problem details after RFC 9457, with a list of what is wrong field by field. */
export interface Problem {
  type: 'about:blank'
  title: string
  status: number
  detail: string
  errors?: Flaw[]
}

const TITLES: Record<number, string> = {
  400: 'Bad request',
  401: 'Not signed in',
  403: 'Not allowed',
  404: 'Not found',
  405: 'Method not allowed',
  408: 'Too slow',
  409: 'Changed in the meantime',
  410: 'Closed',
  413: 'Too large',
  415: 'Wrong content type',
  422: 'Something is wrong with what was sent',
  428: 'A proof is asked for',
  429: 'Too many at once',
  500: 'Our fault',
  503: 'Not ready',
}

/** An error to throw; it goes out as problem details. `detail` says what to do; `more` are members of its own (RFC 9457, 3.2). */
export function problem(status: number, detail: string, errors?: Flaw[], more: object = {}): H3Error<Problem> {
  const body = { ...problemBody(status, detail, errors), ...more }
  return createError({ statusCode: status, statusMessage: body.title, message: detail, data: body })
}

export function problemBody(status: number, detail: string, errors?: Flaw[]): Problem {
  return { type: 'about:blank', title: TITLES[status] ?? 'Problem', status, detail, ...(errors?.length && { errors }) }
}
