import { defineEventHandler, setResponseStatus } from 'h3'
import { frontOf } from '#db/hosts'
import { database } from '#server/database'
import { hostedNothing } from '#server/hosted/pages'
import { hostOf } from '#server/hosts'
import { leadTo } from '#server/wire'

/** What is there under a name of our own beside the application's address: what visitors see, and nothing of the team's. */
const VISITORS = /^\/(?:(?:p|w|c|e|m|go|leave)\/|robots\.txt$|health$)/

export default defineEventHandler(async event => {
  const host = await hostOf(event)
  if (!host) return
  event.context.host = host.name
  const [path, query] = event.path.split('?')
  if (VISITORS.test(path!)) return
  const front = path === '/' ? await frontOf(database(), host.name) : null
  if (front) return leadTo(event, `/p/${front}${query ? `?${query}` : ''}`, 303)
  setResponseStatus(event, 404)
  return hostedNothing(event)
})
