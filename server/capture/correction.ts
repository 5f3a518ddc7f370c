import { correct, mayCorrect } from '#core/capture/correct'
import { personKey, sameByOf } from '#core/identity/same-person'
import type { Flaw } from '#core/flaws'
import { nameOf, propertyOf } from '#core/leads/lead'
import { readAnswers } from '#core/points/answers'
import type { Answers } from '#core/points/definition'
import { withActivities } from '#core/scoring/score'
import { insertTimeline, leadForUpdate, writeAttributes } from '#db/capture'
import { addNotice, correctEntry, entryById, keepAnswers, answersOfEntries, type EntryRow } from '#db/entries'
import { keepKeys } from '#db/identity'
import { editionOf, pointByKey, type Edition, type Point } from '#db/points'
import { applicationContext } from '#server/application-context'
import { answersBy } from '#server/follow-up/answers'
import { judgeOf } from '#server/segments/about'
import { relabel } from '#server/trail/relabel'
import { newId } from '#server/ids'
import { letterOf } from '#server/letters'
import { say } from '#server/live/say'

/** An entry that its visitor may correct, with the edition it answers. */
export interface Correcting { entry: EntryRow & { leadId: string }; edition: Edition; point: Point }

/** What a signed word of an address lets somebody correct; null when the point allows it no more, or it is not ours. */
export async function correcting(token: string): Promise<Correcting | null> {
  const id = letterOf('correct', token)
  const { sql } = applicationContext()
  const entry = id ? await entryById(sql, id) : undefined
  if (!entry?.leadId || entry.state !== 'complete') return null
  const [point, edition] = await Promise.all([pointByKey(sql, entry.pointKey), editionOf(sql, entry.pointId, entry.edition)])
  return point?.live?.definition.returns.correct && edition ? { entry: entry as Correcting['entry'], edition, point } : null
}

/**
 * Corrects an entry: its answers, the properties it had filled, and what follows from them.
 * @param given answers by question key, as a form sent them; what may not be corrected stays as it was
 * @returns what is wrong with them; empty when it is done
 */
export async function correctTo({ entry, edition, point }: Correcting, given: Record<string, unknown>): Promise<Flaw[]> {
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const { questions } = edition.definition
  const fixed = Object.fromEntries(questions.filter(q => !mayCorrect(q) && q.kind !== 'file' && entry.answers[q.key] !== undefined).map(q => [q.key, entry.answers[q.key]!]))
  const asked = questions.filter(q => q.kind !== 'file')
  const after = readAnswers(asked, { ...given, ...fixed }, ruleset.reading)
  if (after.flaws.length) return after.flaws
  const before = readAnswers(asked, entry.answers, ruleset.reading)
  const files: Answers = Object.fromEntries(questions.filter(q => q.kind === 'file' && entry.answers[q.key] !== undefined).map(q => [q.key, entry.answers[q.key]!]))
  const at = Date.now()
  const owner = await sql.begin(async (tx) => {
    const lead = await leadForUpdate(tx, entry.leadId)
    if (!lead) return null
    const came = correct(lead, questions, before, after)
    if (!came.answers.length) return null
    const judge = (await judgeOf(tx, ruleset, [lead], at))(lead)
    lead.reasons = withActivities(ruleset.scorecard, lead.reasons, judge, [], at).lines
    await keepAnswers(tx, lead.id, entry.id, answersBy((await answersOfEntries(tx, [entry.id])).get(entry.id)!))
    await correctEntry(tx, entry.id, { ...after.answers, ...files }, new Date(at))
    await writeAttributes(tx, lead, new Date(at))
    await Promise.all(keepKeys(tx, ruleset.rules, [{ id: lead.id, own: null, keys: ruleset.rules.flatMap(rule => personKey(sameByOf(rule), property => propertyOf(lead, property)) ?? []) }]))
    await insertTimeline(tx, [{ id: newId(at), lead: lead.id, at, kind: 'corrected', actor: null, payload: { entry: entry.id, point: point.name, ...came } }])
    await relabel(tx, ruleset, [lead], at)
    if (lead.ownerId) await addNotice(tx, { id: newId(at), to: lead.ownerId, lead: lead.id, at: new Date(at), subject: `${nameOf(lead)} corrected what they sent (${point.name})`, text: '', mail: false })
    return lead.ownerId ?? ''
  })
  if (owner !== null) await say(sql, { leads: [entry.leadId], ...(owner && { members: [owner] }) })
  return []
}
