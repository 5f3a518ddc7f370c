import { clearSession, getSession, updateSession, type H3Event, type SessionConfig } from 'h3'
import { may, whoMay, type Act } from '#core/roles'
import { memberById, type Member } from '#db/members'
import { database, setting } from '#server/database'
import { problem } from '#server/problem'

const TWO_WEEKS_S = 14 * 24 * 3600

/** The session is a sealed cookie: who is signed in, encrypted and signed, and no state here. */
function config(): SessionConfig {
  return {
    name: 'cavlin', password: setting('CAVLIN_SESSION'), maxAge: TWO_WEEKS_S,
    cookie: { httpOnly: true, sameSite: 'lax', path: '/', secure: (process.env.CAVLIN_URL ?? '').startsWith('https:') },
  }
}

interface Kept { member?: string }

export const signInAs = (event: H3Event, member: string) => updateSession<Kept>(event, config(), { member })
export const signOut = (event: H3Event) => clearSession(event, config())

/**
 * The member who asks, as they are now: a role taken away counts at once.
 * @throws 401 when nobody is signed in, 403 when their role may not do `act`
 */
export async function memberOf(event: H3Event, act?: Act): Promise<Member> {
  const { data } = await getSession<Kept>(event, config())
  const member = data.member && await memberById(database(), data.member)
  if (!member) throw problem(401, 'Sign in first.')
  if (act && !may(member.role, act)) throw problem(403, `Your role is ${member.role}; only ${whoMay(act)} may do this.`)
  return member
}
