import { defineEventHandler } from 'h3'
import { AS_IT_COMES } from '#core/telling/telling'
import { applicationContext } from '#server/application-context'
import { memberOf } from '#server/session'

/** What reaches oneself, and what the firm insists on. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  const { members, insists, noticeTexts } = await applicationContext().cache.ruleset()
  return { telling: members.get(member.id)?.telling ?? AS_IT_COMES, insists: [...insists], texts: noticeTexts }
})
