import { defineEventHandler } from 'h3'
import { leadById } from '#db/leads'
import { pointRows } from '#db/points'
import { database } from '#server/database'
import { personalAddress } from '#server/signed-addresses'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** The addresses at which this lead, and nobody else, finds a live form with what we know of them in it. */
export default defineEventHandler(async event => {
  await memberOf(event, 'make links')
  const sql = database()
  const lead = await leadById(sql, idFrom(event))
  if (!lead) throw problem(404, 'There is no such lead.')
  return (await pointRows(sql))
    .filter(p => p.liveNumber !== null)
    .map(p => ({ id: p.id, name: p.name, title: p.title, url: personalAddress(p.slug, lead.id) }))
})
