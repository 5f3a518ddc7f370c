import { correct, mayCorrect } from '#core/capture/correct'
import type { Flaw } from '#core/flaws'
import { readAnswers } from '#core/points/answers'
import type { Answers } from '#core/points/definition'
import { correctEntry, entryById, keepAnswers, answersOfEntries, type EntryRow } from '#db/entries'
import { editionOf, pointByKey, type Edition, type Point } from '#db/points'
import { applicationContext } from '#server/application-context'
import { answersBy } from '#server/follow-up/answers'
import { openBatch } from '#server/ingest/change'
import { idOfToken } from '#server/signed-addresses'
import { say } from '#server/live/say'
import { sayIn } from '#core/languages/say'

/** An entry that its visitor may correct, with the edition it answers. */
export interface Correcting {
  entry: EntryRow & { leadId: string }
  edition: Edition
  point: Pick<Point, 'key' | 'name'>
}

/** What a signed word of an address lets somebody correct; null when the point allows it no more, or it is not ours. */
export async function correcting(token: string): Promise<Correcting | null> {
  const id = idOfToken('correct', token)
  const { sql } = applicationContext()
  const entry = id ? await entryById(sql, id) : undefined
  if (!entry?.leadId || entry.state !== 'complete') return null
  const [point, edition] = await Promise.all([pointByKey(sql, entry.pointKey), editionOf(sql, entry.pointId, entry.edition)])
  return point?.live?.definition.returns.correct && edition && !edition.definition.quiz
    ? { entry: entry as Correcting['entry'], edition, point }
    : null
}

/**
 * Corrects an entry: its answers, the properties it had filled, and what follows from them.
 * @param given answers by question key, as a form sent them; what may not be corrected stays as it was
 * @param tells what the owner reads that they did
 * @returns what is wrong with them; empty when it is done
 */
export async function correctTo(
  { entry, edition, point }: Correcting,
  given: Record<string, unknown>,
  tells = 'corrected what they sent',
): Promise<Flaw[]> {
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const { questions } = edition.definition
  const language = entry.language ?? edition.definition.language
  const reading = { ...ruleset.reading, say: sayIn(language) }
  const fixed = Object.fromEntries(
    questions
      .filter(q => !mayCorrect(q) && q.kind !== 'file' && entry.answers[q.key] !== undefined)
      .map(q => [q.key, entry.answers[q.key]!]),
  )
  const asked = questions.filter(q => q.kind !== 'file')
  const after = readAnswers(asked, { ...given, ...fixed }, reading)
  if (after.flaws.length) return after.flaws
  const before = readAnswers(asked, entry.answers, reading)
  const files: Answers = Object.fromEntries(
    questions.filter(q => q.kind === 'file' && entry.answers[q.key] !== undefined).map(q => [q.key, entry.answers[q.key]!]),
  )
  const at = Date.now()
  const owner = await sql.begin(async tx => {
    const batch = await openBatch(tx, ruleset, { ids: [entry.leadId], at })
    const lead = batch.book.byId.get(entry.leadId)
    // What changes nothing is no correction.
    if (!lead || !correct(structuredClone(lead), questions, before, after).answers.length) return null
    await keepAnswers(tx, entry.id, answersBy((await answersOfEntries(tx, [entry.id])).get(entry.id)!))
    await correctEntry(tx, entry.id, { ...after.answers, ...files }, new Date(at))
    const notice = `${tells} (${point.name})`
    await batch.apply([
      { kind: 'correction', at, by: null, lead: lead.id, entry: entry.id, point: point.name, questions, before, after, notice },
    ])
    return lead.ownerId ?? ''
  })
  if (owner !== null) await say(sql, { leads: [entry.leadId], ...(owner && { notices: [owner] }) })
  return []
}
