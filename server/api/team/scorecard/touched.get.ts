import { defineEventHandler, getQuery } from 'h3'
import { spotsOf } from '#db/reports'
import { applicationContext } from '#server/application-context'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

const MOST = 50_000

/** The open leads that have points by a rule, which light up on the square. */
export default defineEventHandler(async (event): Promise<{ ids: string[] }> => {
  await memberOf(event)
  const { rule } = getQuery(event)
  if (typeof rule !== 'string' || rule.length < 1 || rule.length > 200) throw problem(400, '`rule` takes the key of a rule.')
  return { ids: await spotsOf(applicationContext().sql, rule, MOST) }
})
