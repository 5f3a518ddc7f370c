import { IsString, Matches, MaxLength } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { issueKey } from '#server/api-keys'
import { database } from '#server/database'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class NewKey {
  @IsString() @MaxLength(100) @Matches(/\S/, { message: 'Name the key after what uses it' }) name!: string
}

/** Makes a key. The answer is the only place where it is ever shown. */
export default defineEventHandler(async (event) => {
  const member = await memberOf(event, 'manage keys')
  const { name } = await readChecked(event, NewKey)
  setResponseStatus(event, 201)
  return { key: await issueKey(database(), name.trim(), member.id) }
})
