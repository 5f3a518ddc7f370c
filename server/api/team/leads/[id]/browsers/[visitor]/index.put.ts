import { defineEventHandler, sendNoContent } from 'h3'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { rejoin } from '#server/trail/take'
import { idFrom } from '#server/wire'

/** It was them after all: gives a browser back that was taken from a lead. */
export default defineEventHandler(async event => {
  await memberOf(event, 'work leads')
  const { sql, cache } = applicationContext()
  const [lead, visitor, ruleset] = [idFrom(event), idFrom(event, 'visitor'), await cache.ruleset()]
  if (!(await sql.begin(tx => rejoin(tx, ruleset, lead, visitor, new Date()))))
    throw problem(409, 'This browser is somebody else’s by now.')
  await say(sql, { leads: [lead], trail: true })
  return sendNoContent(event)
})
