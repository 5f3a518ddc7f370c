import { defineEventHandler } from 'h3'
import { livePlan, loads, turns } from '#db/routing'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** The live routing plan, its turns, and what each owner has in hand. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  const db = database()
  const [plan, given, inHand] = await Promise.all([livePlan(db), turns(db), loads(db)])
  return { plan: plan ?? null, turns: given, loads: inHand }
})
