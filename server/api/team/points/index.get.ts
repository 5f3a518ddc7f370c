import { defineEventHandler, getQuery } from 'h3'
import { pointRows } from '#db/points'
import { database } from '#server/database'
import { memberOf } from '#server/session'

export default defineEventHandler(async (event) => {
  await memberOf(event)
  return pointRows(database(), getQuery(event).away === 'true')
})
