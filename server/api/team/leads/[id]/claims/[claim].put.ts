import { IsBoolean } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { applicationContext } from '#server/application-context'
import { judgeClaim } from '#server/claims/judge'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class Judged {
  @IsBoolean() theirs!: boolean
}

/** Whether an address that was claimed for a lead is theirs. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'judge entries')
  const { theirs } = await readChecked(event, Judged)
  const lead = idFrom(event)
  await judgeClaim(database(), await applicationContext().cache.ruleset(), lead, idFrom(event, 'claim'), theirs, member.id)
  await say(database(), { leads: [lead], review: true, jobs: true })
  return sendNoContent(event)
})
