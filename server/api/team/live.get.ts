import { createEventStream, defineEventHandler, setResponseHeader } from 'h3'
import { stands } from '#db/sessions'
import { database } from '#server/database'
import { hubInstance } from '#server/live/hub-instance'
import { LASTING, memberOf, sessionOf } from '#server/session'

const KEEP_ALIVE_MS = 20_000

/** What changes, as server-sent events, for as long as the screen is open and its member signed in. */
export default defineEventHandler(async (event) => {
  const member = await memberOf(event)
  const session = sessionOf(event)!
  setResponseHeader(event, 'x-accel-buffering', 'no')
  const stream = createEventStream(event)
  const push = (data: unknown) => void stream.push(JSON.stringify(data)).catch(() => {})
  const end = () => void stream.close().catch(() => {})
  const stop = hubInstance().hear(({ ended, out, ...change }) => {
    if (ended?.includes(member.id) || out?.includes(session.toString('hex'))) return end()
    if (Object.keys(change).length) push(change)
  })
  const alive = setInterval(() => {
    // A session may end by itself while nobody asks for anything.
    stands(database(), session, LASTING).then(still => still ? stream.push({ event: 'alive', data: '' }) : end(), () => {})
  }, KEEP_ALIVE_MS)
  stream.onClosed(() => {
    clearInterval(alive)
    stop()
  })
  push({ hello: true })
  return stream.send()
})
