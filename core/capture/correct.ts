import { inWords, same } from '#core/leads/fill-property'
import { propertyOf, setProperty, type LeadState } from '#core/leads/lead'
import { answerText, type Question } from '#core/points/definition'
import type { ReadAnswers } from '#core/points/answers'
import type { Corrected } from '#core/events/kinds/corrected'

type Read = Pick<ReadAnswers, 'answers' | 'values'>

/** Whether a visitor may change the answer to a question afterwards: not who they are, what they agreed to, what they did not see, or files. */
export const mayCorrect = (q: Question): boolean => q.property !== 'email' && q.kind !== 'consent' && q.kind !== 'file' && !q.hidden

/**
 * Puts a visitor's correction of an entry into effect on their lead: a property follows where the entry had
 * filled it, also to nothing known any more; where something else was learnt since, that stays.
 * The tags of choices follow the choices.
 * @returns what changed, in words; empty when nothing did
 */
export function correct(lead: LeadState, questions: Question[], before: Read, after: Read): Pick<Corrected, 'answers' | 'changed'> {
  const answers: Corrected['answers'] = []
  const changed: Corrected['changed'] = []
  const text = (q: Question, read: Read) => (read.answers[q.key] === undefined ? '' : answerText(q, read.answers[q.key]!))
  const tagsOf = (read: Read) =>
    questions.flatMap(q => q.choices.flatMap(c => (c.tag && [read.answers[q.key] ?? []].flat().includes(c.value) ? [c.tag] : [])))
  for (const q of questions.filter(mayCorrect)) {
    const [from, to] = [text(q, before), text(q, after)]
    if (from === to) continue
    const [was, now] = [before.answers[q.key], after.answers[q.key]]
    answers.push({ question: q.label, from, to, key: q.key, ...(was !== undefined && { was }), ...(now !== undefined && { now }) })
    const value = after.values[q.key]
    if (!q.property || value === undefined) continue
    const known = propertyOf(lead, q.property)
    const old = before.values[q.key]
    if (known !== null && !(old !== undefined && same(known, old))) continue
    if (known !== null && same(known, value)) continue
    setProperty(lead, q.property, value)
    changed.push({ property: q.property, from: known === null ? '' : inWords(known), to: inWords(value) })
  }
  const [was, now] = [tagsOf(before), tagsOf(after)]
  lead.tags = [...new Set([...lead.tags.filter(t => !was.includes(t) || now.includes(t)), ...now])]
  return { answers, changed }
}
