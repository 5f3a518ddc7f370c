import { IsInt, IsObject, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator'
import { defineEventHandler } from 'h3'
import { savePlanDraft } from '#db/routing'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { planChangedMeanwhile, planFrom } from '#server/routing/plan'
import { memberOf } from '#server/session'
import { MOST_DEFINITION_BYTES, MOST_REVISION, readChecked } from '#server/wire'

class WorkingCopy {
  @IsInt() @Min(0) @Max(MOST_REVISION) revision!: number
  @IsOptional() @IsString() @MaxLength(0) name?: string
  @IsObject() definition!: object
}

/** Keeps the working copy of the plan; nothing is routed by it yet. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit plan')
  const body = await readChecked(event, WorkingCopy, MOST_DEFINITION_BYTES)
  const { sql } = applicationContext()
  const revision = await savePlanDraft(sql, planFrom(body.definition), body.revision, member.id)
  if (revision === null) throw planChangedMeanwhile()
  await say(sql, { plan: true })
  return { revision }
})
