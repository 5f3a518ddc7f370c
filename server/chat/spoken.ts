import { MOST_MESSAGE } from '#core/chat/lines'
import { sayIn } from '#core/languages/say'
import { addConversation, addMessages, saveConversation } from '#db/conversations'
import type { Member } from '#db/members'
import { leadsOfVisitors, visitorOfVisit } from '#db/trail'
import { liveChats, fetched, waitingToBeFetched, keepForBrowser } from '#db/spoken'
import { applicationContext } from '#server/application-context'
import { freshConversation, messageText, push } from '#server/chat/talk'
import { talkOf, tellOf } from '#server/chat/within'
import { newSecret, secretHash } from '#server/chat/wire'
import { say, type Change } from '#server/live/say'
import { problem } from '#server/problem'

/** What a browser is told of a conversation that one of us began with it. */
export interface Spoken {
  point: string
  id: string
  secret: string
}
/** Whoever has not come for it by then is gone. */
const LASTS_MS = 30 * 60_000
const KEPT_MS = 10_000
let kept: { until: number; all: Promise<Map<string, Spoken>> } | null = null

/** What waits for a browser: few at any time, held in memory, for each sign of life of each browser asks. */
export async function spokenTo(visitor: string): Promise<Spoken | undefined> {
  if (!kept || kept.until < Date.now()) {
    const { sql } = applicationContext()
    const fresh = {
      until: Date.now() + KEPT_MS,
      all: waitingToBeFetched(sql, new Date(Date.now() - LASTS_MS)).then(
        rows => new Map(rows.map(({ visitorId, ...s }) => [visitorId, s])),
      ),
    }
    fresh.all.catch(() => {
      if (kept === fresh) kept = null
    })
    kept = fresh
  }
  return (await kept.all).get(visitor)
}
export const forgetSpoken = (change: Pick<Change, 'spoken'>): void => {
  if (change.spoken) kept = null
}

/** Speaks first to whoever is on the site: a conversation that their browser comes for with its next sign of life. @throws 404, 409, 422 */
export async function speakFirst(visit: string, member: Member, words: string): Promise<string> {
  const { sql, cache } = applicationContext()
  const text = messageText(words, MOST_MESSAGE)
  const visitor = await visitorOfVisit(sql, visit)
  if (!visitor) throw problem(404, 'There is no such visit.')
  const [first] = await liveChats(sql)
  const point = first && (await cache.point(first.key))
  if (!point?.live?.definition.chat) throw problem(409, 'No chat is live. Make one live first; what is said goes through its window.')
  if ((await spokenTo(visitor)) !== undefined) throw problem(409, 'Somebody has spoken to them already, and they have not answered yet.')
  const [lead, ruleset] = await Promise.all([leadsOfVisitors(sql, [visitor]), cache.ruleset()])
  const [now, secret] = [new Date(), newSecret()]
  const c = freshConversation(now.getTime(), {
    pointId: point.id,
    editionId: point.live.id,
    secret: secretHash(secret),
    visitorId: visitor,
    leadId: lead.get(visitor) ?? null,
    memberId: member.id,
    state: 'talking',
    beganBy: 'member',
    language: point.live.definition.language,
  })
  const talk = await sql.begin(async tx => {
    await addConversation(tx, c)
    const t = await talkOf(tx, ruleset, c, null)
    push(t, 'house', sayIn(t.language)('chatJoined', { name: member.name }), { kind: 'joined' })
    push(t, 'member', text, null, { member: member.id })
    c.seenByUs = c.last
    await saveConversation(tx, c)
    await addMessages(tx, t.added)
    await keepForBrowser(tx, { id: c.id, visitorId: visitor, secret, at: now })
    return t
  })
  kept = null
  await say(sql, { spoken: true })
  await tellOf(talk)
  return c.id
}

/** The browser has it, and will come by itself from now on. */
export async function wasFetched(id: string): Promise<void> {
  const { sql } = applicationContext()
  if (!(await fetched(sql, id))) return
  kept = null
  await say(sql, { spoken: true })
}
