import { ArrayMaxSize, ArrayUnique, IsArray, IsString, IsUUID, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { merge } from '#server/review/merge'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Joined {
  /** Who stays, and who goes into them. */
  @IsUUID('all') kept!: string
  @IsUUID('all') gone!: string
  /** What is taken from the one that goes where both say something: keys of properties, `owner`, `status`, `next_step`. */
  @IsArray() @ArrayMaxSize(300) @IsString({ each: true }) @MaxLength(60, { each: true }) @ArrayUnique() take!: string[]
}

/** Joins two leads that are one person. @returns by which id they are taken apart again */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'judge entries')
  const asked = await readChecked(event, Joined)
  const [kept, gone] = [asked.kept.toLowerCase(), asked.gone.toLowerCase()]
  const { sql, cache } = applicationContext()
  const id = await merge(sql, await cache.ruleset(), { kept, gone, take: asked.take, by: member.id })
  await say(sql, { leads: [kept, gone], review: true, lists: true, notices: true, jobs: true })
  return { id, lead: kept }
})
