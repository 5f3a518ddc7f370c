import { defineEventHandler, getQuery, setResponseHeader, setResponseStatus } from 'h3'
import { requireKey } from '#server/api-keys'
import { applicationContext } from '#server/application-context'
import { readAsked } from '#server/scoring/learn-ask'
import { beginLearning } from '#server/scoring/suggestion'

/** Learns a scorecard: 202, and a job that says how far it has come and, at its end, what was learned. */
export default defineEventHandler(async event => {
  await requireKey(event, 'scorecards:learn')
  const { sql, cache } = applicationContext()
  const { input, options } = await readAsked(event, getQuery(event), await cache.ruleset())
  // Whose leads they are is theirs to know who may read leads.
  if ('segment' in input) await requireKey(event, 'leads:read')
  const id = await beginLearning(sql, input, options, null)
  setResponseStatus(event, 202)
  setResponseHeader(event, 'location', `/api/v1/jobs/${id}`)
  return { id }
})
