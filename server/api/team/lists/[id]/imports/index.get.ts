import { defineEventHandler } from 'h3'
import { IMPORT_DAYS } from '#core/lists/people'
import { importsOf } from '#db/imports'
import { database } from '#server/database'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

const DAY = 86_400_000

/** What tables brought onto a list lately, and how far the one is that comes now. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit segments')
  return await importsOf(database(), idFrom(event), new Date(Date.now() - IMPORT_DAYS * DAY))
})
