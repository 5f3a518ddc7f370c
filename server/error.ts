import { send, setResponseHeader, setResponseStatus, type H3Error, type H3Event } from 'h3'
import { problemBody, type Problem } from '#server/problem'

const MACHINES = /^\/(api|w|health)(\/|$|\?)/

/** What goes out when a route throws: problem details, never a stack or another's data. Pages are left to Nuxt. */
export default async function (error: H3Error, event: H3Event): Promise<void> {
  if (!MACHINES.test(event.path)) return
  const status = error.statusCode || 500
  const own = (error.data as Problem | undefined)?.type === 'about:blank' ? error.data as Problem : null
  if (status >= 500 && !own) console.error(`${event.method} ${event.path}:`, error.cause ?? error)
  const body = own ?? problemBody(status, status === 404 ? 'There is nothing at this address.' : status >= 500
    ? 'Something went wrong here. Nothing was half done; try again in a moment.' : 'This request cannot be answered.')
  setResponseStatus(event, status)
  setResponseHeader(event, 'content-type', 'application/problem+json')
  await send(event, JSON.stringify(body))
}
