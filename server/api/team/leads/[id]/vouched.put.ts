import { defineEventHandler, sendNoContent } from 'h3'
import { applicationContext } from '#server/application-context'
import { vouchFor } from '#server/claims/judge'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** The address that a lead got by a claim is theirs: a member has found out. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const lead = idFrom(event)
  await vouchFor(database(), await applicationContext().cache.ruleset(), lead, member.id)
  await say(database(), { leads: [lead] })
  return sendNoContent(event)
})
