import { IsBoolean, IsInt, IsOptional, IsString, IsUUID, Max, MaxLength, Min } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { MOST_RULES } from '#core/learning/learn'
import { applicationContext } from '#server/application-context'
import { problem } from '#server/problem'
import { leadsToLearn } from '#server/scoring/learn-ask'
import { beginLearning } from '#server/scoring/suggestion'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Asked {
  @IsOptional() @IsUUID() segment?: string
  @IsOptional() @IsString() @MaxLength(100) goal?: string
  /** People are judged so many days after they came. */
  @IsOptional() @IsInt() @Min(0) @Max(365) days?: number
  @IsOptional() @IsInt() @Min(1) @Max(MOST_RULES) maxRules?: number
  @IsOptional() @IsBoolean() sensitive?: boolean
}

/** Begins to learn a scorecard from what became of leads. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit scorecard')
  const asked = await readChecked(event, Asked)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  if (asked.segment && !ruleset.segments.has(asked.segment))
    throw problem(422, 'There is no such segment any more.', [{ field: 'segment', message: 'There is no such segment any more.' }])
  const input = leadsToLearn(asked, ruleset, asked.segment ?? null)
  const id = await beginLearning(sql, input, { maxRules: asked.maxRules ?? 20, seed: 1 }, member.id)
  setResponseStatus(event, 202)
  return { id }
})
