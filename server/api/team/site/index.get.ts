import { defineEventHandler } from 'h3'
import { siteSettings } from '#db/trail'
import { database } from '#server/database'
import { memberOf } from '#server/session'

export default defineEventHandler(async event => {
  await memberOf(event)
  return siteSettings(database())
})
