import { defineEventHandler, sendRedirect } from 'h3'
import { leadById } from '#db/leads'
import { standingFor } from '#db/merges'
import { requireKey } from '#server/api-keys'
import { applicationContext } from '#server/application-context'
import { publicLead } from '#server/follow-up/view'
import { problem } from '#server/problem'
import { idFrom } from '#server/wire'

export default defineEventHandler(async event => {
  await requireKey(event, 'leads:read')
  const { sql, cache } = applicationContext()
  const id = idFrom(event)
  const row = await leadById(sql, id)
  const root = row ? id : await standingFor(sql, id)
  // It is the same person as another lead, and is read there.
  if (root !== id) return sendRedirect(event, `/api/v1/leads/${root}`, 308)
  if (!row) throw problem(404, 'There is no lead with this id.')
  return publicLead(row, await cache.ruleset(), Date.now())
})
