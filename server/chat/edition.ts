import type { Chat } from '#core/chat/chat'
import type { Language } from '#core/languages/language'
import type { PointDefinition } from '#core/points/definition'
import { inTongue, languagesOf } from '#core/points/translations'
import type { Db } from '#db/client'
import type { Conversation } from '#db/conversations'
import { editionById, type Edition } from '#db/points'
import { problem } from '#server/problem'

/** What a conversation says and asks, and in which words. */
export interface Spoken {
  edition: Edition
  /** In the language of the conversation. */
  definition: PointDefinition
  chat: Chat
  language: Language
}

/** An edition never changes, and each line of each conversation needs one: so many are kept at hand. */
const MOST_KEPT = 60
const kept = new Map<string, Spoken>()

/** The edition that a conversation began in, in its language. @throws 404 when it is not there any more */
export async function spokenIn(db: Db, c: Pick<Conversation, 'editionId' | 'language'>): Promise<Spoken> {
  const key = `${c.editionId} ${c.language}`
  const found = kept.get(key) ?? (await read(db, c))
  // The one that was asked for last is let go of last.
  kept.delete(key)
  kept.set(key, found)
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!)
  return found
}

async function read(db: Db, { editionId, language: wished }: Pick<Conversation, 'editionId' | 'language'>): Promise<Spoken> {
  const edition = await editionById(db, editionId)
  if (!edition?.definition.chat) throw problem(404, 'This conversation is not there any more. Begin a new one.')
  const language = languagesOf(edition.definition).find(l => l === wished) ?? edition.definition.language
  const definition = inTongue(edition.definition, language)
  return { edition, definition, chat: definition.chat!, language }
}
