import { IsString, MaxLength, MinLength } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { memberOf, signInAs } from '#server/session'
import { changePassword } from '#server/sign-in'
import { readChecked } from '#server/wire'

class Passwords {
  @IsString() @MaxLength(300) present!: string
  @IsString() @MinLength(12, { message: 'Take at least 12 characters; three or four words do well' }) @MaxLength(300) next!: string
}

/** Another password for oneself. All other browsers are signed out. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  const { present, next } = await readChecked(event, Passwords)
  await changePassword(event, member, present, next)
  await signInAs(event, member.id)
  return sendNoContent(event)
})
