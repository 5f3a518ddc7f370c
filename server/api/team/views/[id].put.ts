import { defineEventHandler } from 'h3'
import { ViewBody } from '#core/follow-up/views'
import { may } from '#core/roles'
import { changeView } from '#db/views'
import { database } from '#server/database'
import { isTaken } from '#server/follow-up/taken'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

/** Changes a view: one's own, or one of the team's that one made; who manages changes all of the team's. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  const view = await readChecked(event, ViewBody)
  const changed = await isTaken(
    changeView(database(), idFrom(event), member.id, may(member.role, 'edit plan'), { ...view, name: view.name.trim() }),
  )
  if (changed === 'taken') throw problem(422, 'Another view has this name.', [{ field: 'name', message: 'Choose another name.' }])
  if (!changed) throw problem(404, 'There is no such view, or it is a colleague’s.')
  await say(database(), { lists: true })
  return { ok: true }
})
