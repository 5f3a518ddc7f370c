import { createHash } from 'node:crypto'
import { defineEventHandler, getRouterParam, setResponseHeader } from 'h3'
import { memberByCalendar } from '#db/calendar'
import { applicationContext } from '#server/application-context'
import { feedFor } from '#server/follow-up/feed'
import { problem } from '#server/problem'

/** Somebody's next steps and meetings as a calendar (RFC 5545), under their secret address. */
export default defineEventHandler(async event => {
  const key = /^(cal_[\w]{10,80})\.ics$/.exec(getRouterParam(event, 'key') ?? '')?.[1]
  const { sql } = applicationContext()
  const member = key && (await memberByCalendar(sql, createHash('sha256').update(key).digest('hex')))
  if (!member)
    throw problem(404, 'There is no calendar at this address. Perhaps it was renewed: take the new one from Follow up, Calendar.')
  setResponseHeader(event, 'content-type', 'text/calendar; charset=utf-8')
  setResponseHeader(event, 'cache-control', 'private, max-age=300')
  setResponseHeader(event, 'x-robots-tag', 'noindex')
  return await feedFor(sql, member, new Date())
})
