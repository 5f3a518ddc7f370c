import { defineEventHandler, getQuery } from 'h3'
import { pageRows } from '#db/points'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** All landing pages and how they do. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  return pageRows(database(), getQuery(event).away === 'true')
})
