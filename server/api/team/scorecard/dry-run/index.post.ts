import { IsInt, IsOptional, IsUUID, Max, Min } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { applicationContext } from '#server/application-context'
import { MOST_REVISION, readChecked } from '#server/wire'
import { say } from '#server/live/say'
import { beginRun } from '#server/scoring/dry-run-view'
import { memberOf } from '#server/session'

class NewRun {
  /** Of the working copy as it was seen. */
  @IsInt() @Min(0) @Max(MOST_REVISION) revision!: number
  @IsOptional() @IsUUID() segment?: string
  @IsOptional() @IsInt() @Min(1) @Max(3650) days?: number
}

/** Begins a dry run of the working copy, in the place of the last. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit scorecard')
  const { revision, segment, days } = await readChecked(event, NewRun)
  const { sql, cache } = applicationContext()
  const id = await beginRun(sql, await cache.ruleset(), revision, { ...(segment && { segment }), ...(days && { days }) }, member.id)
  await say(sql, { dryRun: true, jobs: true })
  setResponseStatus(event, 202)
  return { id }
})
