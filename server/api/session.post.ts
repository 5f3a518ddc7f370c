import { IsString, MaxLength } from 'class-validator'
import { defineEventHandler, setResponseHeader } from 'h3'
import { parseEmail } from '#core/identity/email'
import { forgetFailures, memberForSignIn, noteFailure, recentFailures } from '#db/members'
import { database } from '#server/database'
import { problem } from '#server/problem'
import { readChecked, sender } from '#server/wire'
import { verifyPassword } from '#server/passwords'
import { signInAs } from '#server/session'

class SignIn {
  @IsString() @MaxLength(300) email!: string
  @IsString() @MaxLength(300) password!: string
}

/** Failures within so many minutes after which signing in must wait: for one person from one address, and from one address at all. */
const WINDOW_MIN = 15
const MOST = { person: 5, address: 50 }
/** So that an unknown address takes as long as a wrong password. */
const NOBODY = '$scrypt$n=16384,r=8,p=1$c2FsdHNhbHRzYWx0c2FsdA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA'

export default defineEventHandler(async (event) => {
  const { email, password } = await readChecked(event, SignIn)
  const db = database()
  const key = parseEmail(email)?.key ?? ''
  const address = sender(event)
  const failures = await recentFailures(db, key, address, WINDOW_MIN)
  if (failures.person >= MOST.person || failures.address >= MOST.address) {
    setResponseHeader(event, 'Retry-After', WINDOW_MIN * 60)
    throw problem(429, `Too many failed attempts. Try again in ${WINDOW_MIN} minutes.`)
  }
  const member = key ? await memberForSignIn(db, key) : undefined
  const right = await verifyPassword(member?.passwordHash ?? NOBODY, password).catch(() => false)
  if (!member || !right) {
    await noteFailure(db, key, address)
    throw problem(401, 'E-mail address and password do not go together. Check both and try again.')
  }
  await forgetFailures(db, key, address)
  await signInAs(event, member.id)
  const { passwordHash: _, ...shown } = member
  return shown
})
