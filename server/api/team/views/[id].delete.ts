import { defineEventHandler } from 'h3'
import { may } from '#core/roles'
import { dropView } from '#db/views'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** Takes a view away: one's own, or one of the team's that one made; who manages takes away all of the team's. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  if (!(await dropView(database(), idFrom(event), member.id, may(member.role, 'edit plan'))))
    throw problem(404, 'There is no such view, or it is a colleague’s.')
  await say(database(), { lists: true })
  return { ok: true }
})
