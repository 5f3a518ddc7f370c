import { RateLimiterMemory, type RateLimiterRes } from 'rate-limiter-flexible'
import { setResponseHeader, type H3Event } from 'h3'
import { problem } from '#server/problem'
import { setting } from '#server/settings'

/** So many entries of one point, within ten minutes, in which machines gave themselves away are an attack. Many entries alone are not: a form may be liked. */
const CAUGHT = { points: 20, duration: 600 }

const caught = new RateLimiterMemory(CAUGHT)
let all: RateLimiterMemory | undefined
const allOf = () => (all ??= new RateLimiterMemory({ points: setting('CAVLIN_LIMIT_POINT'), duration: 60 }))

/**
 * Counts an entry against what its point takes in a minute, whoever sends it.
 * @throws 429 with Retry-After when that is used up
 */
export async function limitPoint(event: H3Event, point: string): Promise<void> {
  if (!setting('CAVLIN_LIMITS')) return
  try {
    await allOf().consume(point)
  } catch (refused) {
    if (refused instanceof Error) throw refused
    const seconds = Math.max(1, Math.ceil((refused as RateLimiterRes).msBeforeNext / 1000))
    setResponseHeader(event, 'Retry-After', seconds)
    throw problem(429, `This form gets more entries than it can take. Try again in ${seconds} s; nothing was stored.`)
  }
}

/** A machine gave itself away at this point. */
export const noteCaught = async (point: string): Promise<void> => {
  if (setting('CAVLIN_LIMITS')) await caught.penalty(point, 1)
}

/** Whether machines seem to be at a point. What one process has seen; each sees its share. */
export async function underAttack(point: string): Promise<boolean> {
  return setting('CAVLIN_LIMITS') && ((await caught.get(point))?.consumedPoints ?? 0) >= CAUGHT.points
}
