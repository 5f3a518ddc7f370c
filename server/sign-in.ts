import { setResponseHeader, type H3Event } from 'h3'
import { parseEmail } from '#core/identity/email'
import { beginAnew, giveBack, take, type Taken, type Wanted } from '#db/allowances'
import { isKnownNetwork, keepHash, memberForSignIn, noteNetwork, setPassword, type Member } from '#db/members'
import { newId } from '#server/ids'
import { applicationContext } from '#server/application-context'
import { insertOwn } from '#db/deliveries'
import { network } from '#server/limits'
import { briefly } from '#server/log'
import { hashPassword, isOutdated, nobodysHash, verifyPassword } from '#server/passwords'
import { problem } from '#server/problem'
import { sender } from '#server/wire'
import { setting } from '#server/settings'

const QUARTER = 15 * 60
/** Passwords that are checked within a quarter of an hour: of one account, and from one network; and within a minute over all. */
const MOST = {
  account: 5,
  network: 50,
  get all() {
    return setting('CAVLIN_LIMIT_SIGN_INS')
  },
}
const ALL: Wanted = { kind: 'all', key: '', seconds: 60 }
/** After so many tries the account's owner is told, once a day. */
const TELL_AFTER = 20

/**
 * Gives a member another password. Whoever is signed in as them anywhere is signed out.
 * @throws 429 as `signIn`, 422 when the present one is wrong
 */
export async function changePassword(event: H3Event, { id, email }: Member, present: string, next: string): Promise<void> {
  const { sql } = applicationContext()
  const allowance = { kind: 'account', key: `change ${id}`, seconds: QUARTER }
  const [tries] = await take(sql, [allowance])
  if (tries!.taken > MOST.account) throw shutOut(event, [tries!])
  const member = await memberForSignIn(sql, parseEmail(email)?.key ?? '')
  const wrong = 'This is not your present password.'
  if (!member || !(await verifyPassword(member.passwordHash, present))) throw problem(422, wrong, [{ field: 'present', message: wrong }])
  await beginAnew(sql, allowance)
  await setPassword(sql, id, await hashPassword(next))
}

/**
 * Checks who signs in. What is tried is counted in the database before it is checked, so that a hundred guesses at once are
 * five; the same for accounts that there are and that there are not. Tries from elsewhere do not shut somebody out where
 * they signed in before.
 * @throws 429 with Retry-After, 401
 */
export async function signIn(event: H3Event, email: string, password: string): Promise<Member> {
  const { sql } = applicationContext()
  const key = parseEmail(email)?.key ?? ''
  const from = network(sender(event))
  const isHome = await isKnownNetwork(sql, key, from)
  const own: Wanted[] = [
    { kind: 'account', key: isHome ? `${key} ${from}` : key, seconds: QUARTER },
    { kind: 'network', key: from, seconds: QUARTER },
  ]
  const taken = await take(sql, own)
  const tries = taken.find(t => t.kind === 'account')!.taken
  if (tries === TELL_AFTER)
    void tellOwner(key, from).catch(error => console.error('A member could not be told of tries to sign in:', briefly(error)))
  const over = taken.filter(t => t.taken > MOST[t.kind as keyof typeof MOST])
  if (over.length) throw shutOut(event, over)
  // Over all count only those that are looked at, or one who hammers would shut everybody out; and nobody at home.
  const [all] = isHome ? [] : await take(sql, [ALL])
  if (all && all.taken > MOST.all) throw shutOut(event, [all])
  const member = key ? await memberForSignIn(sql, key) : undefined
  const right = await verifyPassword(member?.passwordHash ?? (await nobodysHash()), password)
  if (!member || !right) throw problem(401, 'E-mail address and password do not go together. Check both and try again.')
  await Promise.all([beginAnew(sql, own[0]!), giveBack(sql, [own[1]!, ...(isHome ? [] : [ALL])]), noteNetwork(sql, member.id, from)])
  const { passwordHash, ...shown } = member
  if (isOutdated(passwordHash)) await keepHash(sql, member.id, await hashPassword(password))
  return shown
}

function shutOut(event: H3Event, over: Taken[]) {
  const seconds = Math.max(...over.map(t => t.seconds), 1)
  setResponseHeader(event, 'Retry-After', seconds)
  const words = seconds > 90 ? `${Math.ceil(seconds / 60)} minutes` : `${seconds} s`
  return problem(429, `Too many attempts to sign in. Try again in ${words}.`)
}

async function tellOwner(key: string, from: string): Promise<void> {
  const { sql } = applicationContext()
  const member = await memberForSignIn(sql, key)
  if (!member) return
  const [told] = await take(sql, [{ kind: 'told', key, seconds: 24 * 3600 }])
  if (told!.taken > 1) return
  await insertOwn(sql, {
    id: newId(),
    kind: 'alert',
    to: { name: member.name, address: member.email },
    subject: 'Somebody tries to sign in as you',
    text: `In the last minutes somebody tried ${TELL_AFTER} passwords for your account, the last time from ${from}. None that was looked at was right.\n\nWas it you? Then wait a quarter of an hour, and try again.\n\nWas it not? Then nothing is lost. If you use the same password elsewhere, change it, and tell whoever looks after Cavlin in your house.`,
  })
}
