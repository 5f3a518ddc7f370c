import { createEventStream, defineEventHandler, setResponseHeader } from 'h3'
import { theHub } from '#server/live/the-hub'
import { memberOf } from '#server/session'

const KEEP_ALIVE_MS = 20_000

/** What changes, as server-sent events, for as long as the screen is open. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  setResponseHeader(event, 'x-accel-buffering', 'no')
  const stream = createEventStream(event)
  const push = (data: unknown) => void stream.push(JSON.stringify(data)).catch(() => {})
  const stop = theHub().hear(push)
  const alive = setInterval(() => void stream.push({ event: 'alive', data: '' }).catch(() => {}), KEEP_ALIVE_MS)
  stream.onClosed(() => {
    clearInterval(alive)
    stop()
  })
  push({ hello: true })
  return stream.send()
})
