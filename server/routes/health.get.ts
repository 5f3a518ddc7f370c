import { defineEventHandler, setResponseStatus } from 'h3'
import { secondsSinceBeat } from '#db/pulse'
import { database } from '#server/database'

/** The worker says every 2 s that it lives; this much silence means it does not. */
const SILENCE_S = 7

export default defineEventHandler(async event => {
  const seconds = await within(3000, secondsSinceBeat(database(), 'worker')).catch(() => undefined)
  if (seconds !== undefined && seconds !== null && seconds < SILENCE_S) return { status: 'ok' }
  setResponseStatus(event, 503)
  return {
    status: 'failing',
    database: seconds === undefined ? 'does not answer' : 'ok',
    worker: seconds === undefined ? 'unknown' : 'does not answer',
  }
})

const within = <T>(ms: number, work: Promise<T>) =>
  Promise.race([work, new Promise<never>((_, no) => setTimeout(() => no(new Error('too slow')), ms))])
