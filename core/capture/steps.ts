import { announcementFor, notifiedFor } from '#core/capture/announcement'
import { whoOf, type Case, type ForReview, type Intake, type TooLate } from '#core/capture/case'
import { identify as identifyBy } from '#core/identity/identify'
import { blankLead, newStep, putOn, tell, whoKey, type Book, type Rules, type Tools } from '#core/leads/book'
import { RUNS, type PersonCause } from '#core/leads/causes'
import { sourceOf } from '#core/figures/facets'
import { propertyOf, setProperty, type LeadState } from '#core/leads/lead'
import { closedText, openness } from '#core/points/closing'
import type { PeopleRules, Question } from '#core/points/definition'
import { mailsFor } from '#core/points/mails'
import type { PropertyValue } from '#core/properties/kinds'
import type { Activity } from '#core/scoring/score'
import type { EventPayloads } from '#core/events/registry'

/**
 * What an entry says of a lead, and what a point does afterwards. Each step changes the case in hand and the book, and nothing
 * else; the stages that all causes share (`core/leads/stages`) come between `whatEntrySays` and `settleEntry`.
 */

/** Stops what comes when the point is closed; keeps for review what looks like a machine, and whom the point does not take in when we do not know them. */
export function guard(book: Book, intake: Intake): ForReview | TooLate | null {
  const { closing } = intake.edition.definition
  const how = openness(closing, intake.at, book.taken.get(intake.point.id) ?? 0)
  if (how !== 'open') return { intake, closed: closedText(closing, how) }
  // Without a script nobody can work out a sum: somebody looks at what they sent.
  if (intake.suspect) return { intake, state: intake.suspect === 'unproven' ? 'held' : 'refused', reason: intake.suspect }
  const { unknown } = intake.edition.definition.people
  if (unknown === 'create' || whoIs(book, intake).person) return null
  return { intake, state: unknown === 'hold' ? 'held' : 'refused', reason: 'unknown_person' }
}

const whoIs = (book: Book, { known, email }: Intake) => identifyBy({ keys: known ? [known] : [], email }, who => book.leads.get(whoKey(who)))

/** An entry's own part: who it is, what it says of them, and what it earns. */
export function whatEntrySays(rules: Rules, tools: Tools, book: Book, cause: Extract<PersonCause, { kind: 'entry' }>): { step: Case; activities: Activity[] } {
  const { intake } = cause
  const now = identify(rules, tools, book, cause)
  record(now)
  const { afterwards } = intake.edition.definition
  const { lead } = now
  if (afterwards.label && rules.labels.indexOf(afterwards.label) > rules.labels.indexOf(lead.labelFloor ?? '')) lead.labelFloor = afterwards.label
  if (afterwards.owner) now.wished = { owner: afterwards.owner, point: intake.point.name }
  putOn(rules, book, now, { on: afterwards.lists, off: [] })
  book.add(lead, { entry: { at: intake.at, point: intake.point.key, answers: intake.answers } })
  // What the browser did before they told who they are counts from now on, and once.
  const earlier = intake.visitor ? book.activitiesOf(intake.visitor) : []
  if (intake.visitor) book.add(lead, { visitor: intake.visitor })
  book.taken.set(intake.point.id, (book.taken.get(intake.point.id) ?? 0) + 1)
  const sent: Activity = { kind: 'entry', at: intake.at, note: intake.point.name, attributes: name => name === 'point' ? intake.point.key : undefined }
  return { step: now, activities: [...earlier, sent] }
}

/** What follows when it is settled who answers for the lead: the next step, what is told, and what is mailed. */
export function settleEntry(rules: Rules, tools: Tools, book: Book, now: Case): void {
  const stages = RUNS[now.cause]
  if (stages.includes('promise')) nextStep(now)
  if (!stages.includes('effects')) return
  now.notified = notifiedFor(rules, tools, book, now)
  // Without an owner only colleagues whom the point names are told.
  if (now.lead.ownerId) now.announcement = announcementFor(now)
  // Nobody is written to about the past.
  now.mails = now.intake.via === 'archive' ? [] : mailsFor(now, tools.newId, tools.sign)
  const claim = now.mails.some(l => l.kind === 'confirm') && now.claim && now.lead.claims.find(c => c.id === now.claim!.id)
  if (claim) claim.asked = true
}

/**
 * Finds who it is, or makes a new lead: by the point's own rule where it has one, else by the address.
 * The same address in any writing is one person. One that arrives on somebody who was found otherwise is only claimed.
 */
function identify(rules: Rules, tools: Tools, book: Book, cause: Extract<PersonCause, { kind: 'entry' }>): Case {
  const { intake } = cause
  const { person: found, address } = whoIs(book, intake)
  const lead = found ?? newLead(rules, tools, book, intake)
  const now: Case = {
    ...newStep(cause, lead, found === null), intake, known: found !== null, claim: address === 'claimed' ? claimOf(tools, lead, intake) : null, recipient: null,
    consents: [], mails: [], announcement: null, notified: [],
  }
  now.recipient = now.claim?.address ?? (address === 'claimed' ? null : lead.email)
  // What they had only typed before they give now.
  if (!found || lead.submittedAt === null) tell(now, 'created', { point: intake.point.name })
  lead.submittedAt ??= intake.at
  if (!lead.counted.first) lead.counted = { ...lead.counted, first: [intake.point.key, sourceOf(intake.utm, intake.referrer)] }
  if (now.claim?.isNew) tell(now, 'claimed', { address: now.claim.address })
  return now
}

function newLead(rules: Rules, tools: Tools, book: Book, intake: Intake): LeadState {
  const lead = { ...blankLead(tools.newId(intake.at), intake.email, rules.firstStatus, intake.at), submittedAt: intake.at }
  for (const who of whoOf(intake)) book.leads.set(whoKey(who), lead)
  book.byId.set(lead.id, lead)
  return lead
}

/** The claim of an address on a lead; null when somebody has judged it: then it is no news, and gets no mail. */
function claimOf(tools: Tools, lead: LeadState, { email, at }: Intake): Case['claim'] {
  const before = lead.claims.find(c => c.key === email!.key)
  if (before && before.theirs !== null) return null
  const claim = before ?? { id: tools.newId(at), key: email!.key, asked: false, theirs: null }
  if (!before) lead.claims.push(claim)
  return { id: claim.id, address: email!.address, key: claim.key, isNew: !before, wasAsked: claim.asked }
}

/** Puts the answers where they belong and the tags on; keeps what was there before in the timeline. */
function record(now: Case): void {
  const { intake, lead } = now
  const { definition } = intake.edition
  const changed: EventPayloads['entry']['changed'] = []
  for (const question of definition.questions) {
    const answer = intake.answers[question.key]
    if (answer === undefined) continue
    if (question.kind === 'consent') now.consents.push({ question: question.key, words: question.label, allows: question.allows })
    const value = intake.values[question.key]
    const change = value === undefined ? null : fill(lead, question, value, now.known ? definition.people.known : 'new')
    if (change) changed.push(change)
  }
  lead.tags = [...new Set([...lead.tags, ...definition.afterwards.tags, ...tagsChosen(definition.questions, intake)])]
  lead.waitingSince ??= intake.at
  const agreed = now.consents.map(c => c.words)
  tell(now, 'entry', { entry: intake.entryId, key: intake.point.key, ...(intake.landing && { landing: intake.landing }), ...(changed.length && { changed }), ...(agreed.length && { agreed }) })
}

/**
 * Fills a question's property as the point and the question say.
 * @returns what stood there before, when something else stands there now
 */
function fill(lead: LeadState, q: Question, value: PropertyValue, known: 'new' | PeopleRules['known']) {
  if (!q.property || q.property === 'email' || known === 'leave' || (known !== 'new' && q.onDifference === 'keep')) return null
  const before = propertyOf(lead, q.property)
  if (before === null) return void setProperty(lead, q.property, value)
  if (known === 'fill' || q.onDifference === 'fill' || same(before, value)) return null
  const after = q.onDifference === 'add' ? added(before, value) : value
  if (same(before, after)) return null
  setProperty(lead, q.property, after)
  return { property: q.property, from: inWords(before), to: inWords(after) }
}

export const inWords = (value: PropertyValue) => [value].flat().join(', ')
export const same = (a: PropertyValue, b: PropertyValue) => JSON.stringify(a) === JSON.stringify(b)
/** What was known and what is new: lists grow by what they lack, texts by a line. */
function added(before: PropertyValue, value: PropertyValue): PropertyValue {
  if (Array.isArray(before) || Array.isArray(value)) return [...new Set([before, value].flat())]
  return before.split('\n').includes(value) ? before : `${before}\n${value}`
}

/** The tags that the choices made carry. */
function tagsChosen(questions: Question[], intake: Intake): string[] {
  const tags: string[] = []
  for (const q of questions) for (const c of q.choices) if (c.tag && [intake.answers[q.key] ?? []].flat().includes(c.value)) tags.push(c.tag)
  return tags
}

/** Sets the next step that the point asks for, where none is set. */
function nextStep(now: Case): void {
  const wished = now.intake.edition.definition.afterwards.nextStep
  if (!wished || now.lead.nextStep !== null) return
  now.lead.nextStep = wished.text
  now.lead.nextStepAt = now.intake.at + wished.days * 86_400_000
  tell(now, 'next_step', { text: wished.text, due: new Date(now.lead.nextStepAt).toISOString() })
}
