import { defineEventHandler } from 'h3'
import { leadById } from '#db/leads'
import { requireKey } from '#server/api-keys'
import { applicationContext } from '#server/application-context'
import { publicLead } from '#server/follow-up/view'
import { problem } from '#server/problem'
import { idFrom } from '#server/wire'

export default defineEventHandler(async (event) => {
  await requireKey(event, 'leads:read')
  const { sql, cache } = applicationContext()
  const row = await leadById(sql, idFrom(event))
  if (!row) throw problem(404, 'There is no lead with this id.')
  return publicLead(row, await cache.ruleset(), Date.now())
})
