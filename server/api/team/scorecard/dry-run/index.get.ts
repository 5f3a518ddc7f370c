import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { dryRunView } from '#server/scoring/dry-run-view'
import { memberOf } from '#server/session'

/** The dry run that there is, with what came of it so far; null before there was one. */
export default defineEventHandler(async event => {
  await memberOf(event)
  return { run: await dryRunView(applicationContext().sql) }
})
