import { defineEventHandler } from 'h3'
import { assets } from '#db/files'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** The pictures and downloads there are, newest first. */
export default defineEventHandler(async event => {
  await memberOf(event)
  return assets(database(), 100)
})
