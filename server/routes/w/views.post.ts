import { defineEventHandler, getRequestHeader, sendNoContent } from 'h3'
import { isbot } from 'isbot'
import { theOffice } from '#server/capture/office'
import { readUtm } from '#server/capture/receive'
import { keepView, ViewBody } from '#server/capture/view'
import { limit } from '#server/limits'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { readChecked } from '#server/wire'

export default defineEventHandler(async (event) => {
  await limit(event, 'views')
  const body = await readChecked(event, ViewBody)
  const { utm, flaws } = readUtm(body.utm ?? {})
  if (flaws.length) throw problem(422, 'Some fields are wrong; see the list.', flaws)
  if (isbot(getRequestHeader(event, 'user-agent'))) return sendNoContent(event)
  const { sql, cache } = theOffice()
  const url = new URL(body.page)
  const standing = await cache.standing()
  const lead = await sql.begin(tx => keepView(tx, standing, {
    id: body.id, at: new Date(), visitor: body.visitor, visit: body.visit, page: url.origin + url.pathname, path: url.pathname,
    title: body.title || null, referrer: body.referrer || null, utm,
  }))
  if (lead) await say(sql, { leads: [lead] })
  return sendNoContent(event)
})
