import { defineEventHandler, sendNoContent } from 'h3'
import { theOffice } from '#server/capture/office'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { rejoin } from '#server/trail/take'
import { idFrom } from '#server/wire'

/** It was them after all: gives a browser back that was taken from a lead. */
export default defineEventHandler(async (event) => {
  await memberOf(event, 'work leads')
  const { sql, cache } = theOffice()
  const [lead, visitor, standing] = [idFrom(event), idFrom(event, 'visitor'), await cache.standing()]
  if (!await sql.begin(tx => rejoin(tx, standing, lead, visitor, new Date()))) throw problem(409, 'This browser is somebody else’s by now.')
  await say(sql, { leads: [lead], trail: true })
  return sendNoContent(event)
})
