import { defineEventHandler, sendNoContent } from 'h3'
import { theOffice } from '#server/capture/office'
import { limit } from '#server/limits'
import { say } from '#server/live/say'
import { browserFrom } from '#server/trail/browser'
import { eraseVisitor } from '#server/trail/take'

/** A visitor changed their mind: what their browser did is erased. What they sent themselves stays. Only their browser knows the address. */
export default defineEventHandler(async (event) => {
  await limit(event, 'views')
  const { sql, cache } = theOffice()
  const [id, standing] = [browserFrom(event), await cache.standing()]
  const leads = await sql.begin(tx => eraseVisitor(tx, standing, id, Date.now()))
  await say(sql, { leads, trail: true })
  return sendNoContent(event)
})
