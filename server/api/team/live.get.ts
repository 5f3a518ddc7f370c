import { createEventStream, defineEventHandler, setResponseHeader } from 'h3'
import { stands } from '#db/sessions'
import { database } from '#server/database'
import { streamOpened } from '#server/live/streams'
import { problem } from '#server/problem'
import { hubInstance } from '#server/live/hub-instance'
import { lasting, memberOf, sessionOf } from '#server/session'

const KEEP_ALIVE_MS = 20_000

/** What changes, as server-sent events, for as long as the screen is open and its member signed in. */
export default defineEventHandler(async (event) => {
  const member = await memberOf(event)
  const session = sessionOf(event)!
  setResponseHeader(event, 'x-accel-buffering', 'no')
  const stream = createEventStream(event)
  const forgetStream = streamOpened(() => void stream.close().catch(() => {}))
  if (!forgetStream) throw problem(503, 'Cavlin is being stopped. Your screen comes back by itself when it is there again.')
  const push = (data: unknown) => void stream.push(JSON.stringify(data)).catch(() => {})
  const end = () => void stream.close().catch(() => {})
  const stop = hubInstance().hear(({ ended, out, ...change }) => {
    if (ended?.includes(member.id) || out?.includes(session.toString('hex'))) return end()
    if (Object.keys(change).length) push(change)
  })
  const alive = setInterval(() => {
    // A session may end by itself while nobody asks for anything.
    stands(database(), session, lasting()).then(still => still ? stream.push({ event: 'alive', data: '' }) : end(), () => {})
  }, KEEP_ALIVE_MS)
  stream.onClosed(() => {
    clearInterval(alive)
    forgetStream()
    stop()
  })
  push({ hello: true })
  return stream.send()
})
