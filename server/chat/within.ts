import { takenIn } from '#core/chat/taken'
import type { Tx } from '#db/client'
import { entryById } from '#db/entries'
import { addMessages, lockConversation, saveConversation, type Conversation } from '#db/conversations'
import { applicationContext } from '#server/application-context'
import { standingFor } from '#db/merges'
import type { LeadCause } from '#core/leads/causes'
import { correctTo } from '#server/capture/correction'
import { changeLeads } from '#server/ingest/change'
import { retried } from '#server/ingest/micro-batcher'
import { talkerOf } from '#server/chat/around'
import { spokenIn } from '#server/chat/edition'
import type { Talk } from '#server/chat/talk'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

/**
 * Goes on with a conversation that nobody else can go on with meanwhile; everybody who looks is told once it is written.
 * @throws 404 when it is not there any more
 */
export async function within(id: string, work: (talk: Talk) => Promise<void>, sender: string | null = null): Promise<Conversation> {
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const done = await sql.begin(async tx => {
    const c = await lockConversation(tx, id)
    if (!c) throw problem(404, 'This conversation is not there any more. Begin a new one.')
    const talk = await talkOf(tx, ruleset, c, sender)
    const [entry, before] = [c.entryId, JSON.stringify(c.place.answers)]
    await work(talk)
    talk.saidMore = entry !== null && JSON.stringify(c.place.answers) !== before
    await saveConversation(tx, c)
    await addMessages(tx, talk.added)
    return talk
  })
  await tellOf(done)
  await tellStory(done)
  if (done.saidMore) await addToEntry(done)
  return done.c
}

export async function tellOf({ c, added, tells }: Talk): Promise<void> {
  if (!added.length) return
  await say(applicationContext().sql, {
    conversations: [c.id],
    ...(tells.notes && { notes: true }),
    ...(tells.leads.length && { leads: tells.leads, jobs: true }),
  })
}

/** A conversation with what goes with it: the edition that it began in, in its language. */
export async function talkOf(tx: Tx, ruleset: Ruleset, c: Conversation, sender: string | null): Promise<Talk> {
  const [spoken, point] = await Promise.all([spokenIn(tx, c), pointOf(tx, c.pointId)])
  if (!point) throw problem(404, 'This conversation is not there any more. Begin a new one.')
  return {
    tx,
    c,
    added: [],
    ...spoken,
    point,
    talker: await talkerOf(tx, c.visitorId, c.page),
    ruleset,
    at: Date.now(),
    tells: { leads: [] },
    story: [],
    saidMore: false,
    sender,
  }
}

const pointOf = async (tx: Tx, id: string) => (await tx<Talk['point'][]>`select id, key, name from point where id = ${id}`)[0]

/** What was answered after the answers were taken in is added to them. In a transaction of its own, as below. */
async function addToEntry({ c, edition, point }: Talk): Promise<void> {
  const entry = await entryById(applicationContext().sql, c.entryId!)
  if (!entry?.leadId || entry.state !== 'complete') return
  const definition = takenIn(edition.definition, c.place.answers, c.place.way)
  const answers = Object.fromEntries(Object.entries(c.place.answers).filter(([, a]) => a.length))
  await retried(() =>
    correctTo({ entry: { ...entry, leadId: entry.leadId! }, edition: { ...edition, definition }, point }, answers, 'said more'),
  )
}

/** Writes what happened into the story of whose conversation it is. In a transaction of its own: who holds a lead may wait for a conversation, never the other way round. */
async function tellStory({ c, story, point, ruleset, at }: Talk): Promise<void> {
  const { sql } = applicationContext()
  const lead = c.leadId && (await standingFor(sql, c.leadId))
  if (!lead || !story.length) return
  const causes = story.map(({ by, ...s }): LeadCause => ({ kind: 'talked', at, by, lead, talk: c.id, point: point.name, ...s }))
  await retried(() => sql.begin(tx => changeLeads(tx, ruleset, causes)))
  await say(sql, { leads: [lead] })
}
