import { propertyOf, type LeadState } from '#core/leads/lead'
import type { Answers, Question } from '#core/points/definition'
import type { Reading } from '#core/points/values'
import type { Property } from '#core/properties/kinds'
import { fileOf } from '#core/files/kinds'
import { leadState } from '#db/book'
import { standingFor } from '#db/merges'
import type { Point } from '#db/points'
import { applicationContext } from '#server/application-context'
import type { Personal } from '#server/hosted/pages'
import { idOfToken } from '#server/signed-addresses'

/**
 * What a form may show somebody of what is known of them, who came by a link that only we can have written.
 * Sensitive properties, consent and files never stand there by themselves.
 * @param token out of the address; anything
 */
export async function personalOf(point: Point, token: unknown): Promise<Personal | null> {
  const id = typeof token === 'string' && token.length < 200 ? idOfToken('again', token) : null
  if (!id) return null
  const { sql, cache } = applicationContext()
  const [lead, { properties, reading }] = await Promise.all([standingFor(sql, id).then(lead => leadState(sql, lead)), cache.ruleset()])
  if (!lead) return null
  return { presets: knownAnswers(lead, point.live!.definition.questions, properties, reading) }
}

/** What is known of a lead already, by the questions that ask for it. */
export function knownAnswers(lead: LeadState, questions: Question[], properties: Property[], reading: Reading): Answers {
  const known: Answers = {}
  // Whoever claimed this address sees nothing of what was known before.
  if (lead.guardedAt !== null) return known
  for (const q of questions) {
    const property = properties.find(p => p.key === q.property)
    const value =
      q.property && property?.sensitivity !== 'sensitive' && q.kind !== 'consent' && q.kind !== 'file' && !q.hidden
        ? propertyOf(lead, q.property)
        : null
    if (value === null || [value].flat().some(v => fileOf(v))) continue
    known[q.key] = q.kind === 'money' && typeof value === 'string' ? String(Number(value) / 10 ** reading.cents) : value
  }
  return known
}
