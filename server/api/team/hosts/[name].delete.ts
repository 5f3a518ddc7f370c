import { defineEventHandler, getRouterParam, sendNoContent } from 'h3'
import { removeHost } from '#db/hosts'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

/** Takes a name away under which nothing stands any more. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit site')
  if (!(await removeHost(database(), getRouterParam(event, 'name') ?? '')))
    throw problem(409, 'Forms or pages stand under this name, or it is gone already. Let them stand elsewhere first.')
  await changed({ site: true, points: true })
  return sendNoContent(event)
})
