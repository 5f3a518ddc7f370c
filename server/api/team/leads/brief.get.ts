import { defineEventHandler, getQuery } from 'h3'
import { briefLeads } from '#db/leads'
import { database } from '#server/database'
import { problem } from '#server/problem'
import { briefView } from '#server/review/list'
import { memberOf } from '#server/session'

const MOST = 50
const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i

/** Some leads in a few words: `?ids=ID,ID`. Who is not there is left out. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { ids } = getQuery(event)
  const wanted = typeof ids === 'string' ? ids.split(',') : []
  if (!wanted.length || wanted.length > MOST || !wanted.every(id => UUID.test(id)))
    throw problem(400, `Name up to ${MOST} leads by their ids, with commas between.`)
  return { leads: (await briefLeads(database(), wanted)).map(briefView) }
})
