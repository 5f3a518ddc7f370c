import { IsInt, IsObject, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator'
import { defineEventHandler } from 'h3'
import { saveScorecardDraft } from '#db/scoring'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { changedMeanwhile, readCard } from '#server/scoring/scorecard'
import { memberOf } from '#server/session'
import { MOST_DEFINITION_BYTES, MOST_REVISION, readChecked } from '#server/wire'

class WorkingCopy {
  @IsInt() @Min(0) @Max(MOST_REVISION) revision!: number
  @IsOptional() @IsString() @MaxLength(0) name?: string
  @IsObject() definition!: object
}

/** Keeps the working copy of the scorecard; nothing is scored by it yet. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit scorecard')
  const body = await readChecked(event, WorkingCopy, MOST_DEFINITION_BYTES)
  const { sql, cache } = applicationContext()
  const card = readCard(body.definition, await cache.ruleset())
  const revision = await saveScorecardDraft(sql, card, body.revision, member.id)
  if (revision === null) throw changedMeanwhile()
  await say(sql, { scorecard: true })
  return { revision }
})
