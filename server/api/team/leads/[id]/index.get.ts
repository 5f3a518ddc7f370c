import { defineEventHandler } from 'h3'
import { leadById } from '#db/leads'
import { listsOf } from '#db/lists'
import { timelineOf } from '#db/timeline'
import { theOffice } from '#server/capture/office'
import { leadView } from '#server/follow-up/view'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** A lead with the newest part of its timeline. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  const { sql, cache } = theOffice()
  const id = idFrom(event)
  const [row, timeline, lists] = await Promise.all([leadById(sql, id), timelineOf(sql, id, null, 100), listsOf(sql, id)])
  if (!row) throw problem(404, 'There is no such lead.')
  return { lead: leadView(row, await cache.standing(), Date.now()), timeline, lists }
})
