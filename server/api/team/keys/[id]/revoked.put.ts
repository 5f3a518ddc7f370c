import { IsBoolean } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { revokeKey } from '#db/keys'
import { database } from '#server/database'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class Revoked {
  @IsBoolean() revoked!: boolean
}

export default defineEventHandler(async event => {
  await memberOf(event, 'manage keys')
  const { revoked } = await readChecked(event, Revoked)
  if (!(await revokeKey(database(), idFrom(event), revoked))) throw problem(404, 'There is no such key.')
  return sendNoContent(event)
})
