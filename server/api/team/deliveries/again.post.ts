import { defineEventHandler } from 'h3'
import { tryAllAgain } from '#db/deliveries'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'

/** Tries once more what was given up. */
export default defineEventHandler(async event => {
  await memberOf(event, 'manage deliveries')
  const tried = await tryAllAgain(database())
  await say(database(), { jobs: true, deliveries: true })
  return { tried }
})
