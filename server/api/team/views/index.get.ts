import { defineEventHandler } from 'h3'
import { viewsOf } from '#db/views'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** One's own views of the table, and the team's. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  return { views: await viewsOf(database(), member.id) }
})
