import { defineEventHandler } from 'h3'
import { readyTexts } from '#db/ready-texts'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** The texts that the team begins mails with. */
export default defineEventHandler(async event => {
  await memberOf(event)
  return { texts: await readyTexts(database()) }
})
