import { defineEventHandler } from 'h3'
import type { OwnTexts } from '#core/languages/say'
import { ownTexts } from '#db/texts'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** What visitors read in the house's own words. */
export default defineEventHandler(async (event): Promise<OwnTexts> => {
  await memberOf(event)
  return await ownTexts(database())
})
