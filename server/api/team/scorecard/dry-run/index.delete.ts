import { defineEventHandler, sendNoContent } from 'h3'
import { dryRun, stopDryRun } from '#db/dry-run'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

/** Stops the dry run that is under way. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit scorecard')
  const { sql } = applicationContext()
  const run = await dryRun(sql)
  if (!run || !(await stopDryRun(sql, run.id))) throw problem(409, 'No dry run is under way.')
  await say(sql, { dryRun: true })
  return sendNoContent(event)
})
