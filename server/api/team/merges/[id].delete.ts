import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { split } from '#server/review/merge'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** Takes two leads apart that had been joined. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'judge entries')
  const { sql, cache } = applicationContext()
  const apart = await split(sql, await cache.ruleset(), idFrom(event), member.id)
  await say(sql, { leads: [apart.kept, apart.gone], review: true, lists: true, jobs: true })
  return apart
})
