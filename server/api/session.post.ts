import { IsString, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { signIn } from '#server/sign-in'
import { signInAs } from '#server/session'
import { readChecked } from '#server/wire'

class SignIn {
  @IsString() @MaxLength(300) email!: string
  @IsString() @MaxLength(300) password!: string
}

export default defineEventHandler(async event => {
  const { email, password } = await readChecked(event, SignIn)
  const member = await signIn(event, email, password)
  await signInAs(event, member.id)
  return member
})
