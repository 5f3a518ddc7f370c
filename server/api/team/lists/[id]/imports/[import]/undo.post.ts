import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { takeBack } from '#server/lists/import'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** Takes back what a table brought. */
export default defineEventHandler(async event => {
  const me = await memberOf(event, 'edit segments')
  const { sql, cache } = applicationContext()
  const came = await takeBack(sql, await cache.ruleset(), idFrom(event, 'import'), me.id)
  if (!came)
    throw problem(409, 'This table cannot be taken back: it is not all in yet, was taken back already, or lies more than 30 days back.')
  await changed({ leads: came.leads, lists: true })
  return { gone: came.gone, stayed: came.stayed }
})
