import { IsBoolean, IsIn } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { may, ROLES, type Role } from '#core/roles'
import { leaveTalks } from '#db/conversations'
import { changeMember } from '#db/members'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class MemberBody {
  @IsIn(ROLES) role!: Role
  @IsBoolean() active!: boolean
}

/** What a colleague may do, and whether they work here. They are signed out everywhere, and sign in anew. */
export default defineEventHandler(async event => {
  await memberOf(event, 'manage members')
  const { role, active } = await readChecked(event, MemberBody)
  const { sql } = applicationContext()
  const id = idFrom(event)
  const came = await changeMember(sql, id, role, active)
  if (came === 'unknown') throw problem(404, 'There is no such colleague.')
  if (came === 'last admin') throw problem(409, 'Somebody has to be admin. Make another colleague admin first.')
  const talks = active && may(role, 'work leads') ? [] : await leaveTalks(sql, id)
  await changed({ colleagues: true, ...(talks.length && { conversations: talks }) })
  return sendNoContent(event)
})
