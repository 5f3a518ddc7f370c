import { inTongue, languagesOf } from '#core/points/translations'
import type { Tx } from '#db/client'
import { addMessages, lockConversation, saveConversation, type Conversation } from '#db/conversations'
import { editionById } from '#db/points'
import { applicationContext } from '#server/application-context'
import { standingFor } from '#db/merges'
import type { LeadCause } from '#core/leads/causes'
import { changeLeads } from '#server/ingest/change'
import { retried } from '#server/ingest/micro-batcher'
import { talkerOf } from '#server/chat/around'
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
    await work(talk)
    await saveConversation(tx, c)
    await addMessages(tx, talk.added)
    return talk
  })
  await tellOf(done)
  await tellStory(done)
  return done.c
}

export async function tellOf({ c, added, tells }: Talk): Promise<void> {
  if (!added.length) return
  await say(applicationContext().sql, { conversations: [c.id], ...(tells.notes && { notes: true }), ...(tells.leads.length && { leads: tells.leads, jobs: true }) })
}

/** A conversation with what goes with it: the edition that it began in, in its language. */
export async function talkOf(tx: Tx, ruleset: Ruleset, c: Conversation, sender: string | null): Promise<Talk> {
  const [edition, point] = await Promise.all([editionById(tx, c.editionId), pointOf(tx, c.pointId)])
  if (!edition?.definition.chat || !point) throw problem(404, 'This conversation is not there any more. Begin a new one.')
  const language = languagesOf(edition.definition).find(l => l === c.language) ?? edition.definition.language
  const definition = inTongue(edition.definition, language)
  return { tx, c, added: [], edition, definition, chat: definition.chat!, point, language, talker: await talkerOf(tx, c.visitorId, c.page), ruleset, at: Date.now(), tells: { leads: [] }, story: [], sender }
}

const pointOf = async (tx: Tx, id: string) => (await tx<Talk['point'][]>`select id, key, name from point where id = ${id}`)[0]


/** Writes what happened into the story of whose conversation it is. In a transaction of its own: who holds a lead may wait for a conversation, never the other way round. */
async function tellStory({ c, story, point, ruleset, at }: Talk): Promise<void> {
  const { sql } = applicationContext()
  const lead = c.leadId && (await standingFor(sql, c.leadId))
  if (!lead || !story.length) return
  const causes = story.map(({ by, ...s }): LeadCause => ({ kind: 'talked', at, by, lead, talk: c.id, point: point.name, ...s }))
  await retried(() => sql.begin(tx => changeLeads(tx, ruleset, causes)))
  await say(sql, { leads: [lead] })
}
