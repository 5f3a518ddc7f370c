import { wake } from '#core/leads/work'
import { carryOut } from '#core/actions/registry'
import { fits } from '#core/actions/only-if'
import type { Condition } from '#core/conditions/condition'
import type { Acting } from '#core/actions/action'
import { lookedAfterBy } from '#core/routing/colleagues'
import { announcementFor } from '#core/capture/announcement'
import type { Intake } from '#core/capture/intake'
import { whoOf, type Case, type ForReview, type TooLate } from '#core/capture/case'
import { identify as identifyBy } from '#core/identity/identify'
import { blankLead, newStep, tell, whoKey, type Book, type Rules, type Tools } from '#core/leads/book'
import { RUNS, type PersonCause } from '#core/leads/causes'
import { sourceOf } from '#core/figures/facets'
import { fillProperty } from '#core/leads/fill-property'
import type { LeadState } from '#core/leads/lead'
import { openness } from '#core/points/closing'
import type { Answers, Question } from '#core/points/definition'
import { writeConfirmation } from '#core/points/mails'
import { entryActivity } from '#core/scoring/activities'
import type { Activity } from '#core/scoring/score'

/**
 * What an entry says of a lead, and what a point does afterwards. Each step changes the case in hand and the book, and nothing
 * else; the stages that all causes share (`core/leads/stages`) come between `whatEntrySays` and `settleEntry`.
 */

/** Stops what comes when the point is closed; keeps for review what looks like a machine, and whom the point does not take in when we do not know them. */
export function guard(rules: Rules, book: Book, intake: Intake): ForReview | TooLate | null {
  const { closing } = intake.edition.definition
  const how = openness(closing, intake.at, book.taken.get(intake.point.id) ?? 0)
  if (how !== 'open') return { intake, closed: how }
  // Without a script nobody can work out a sum: somebody looks at what they sent.
  if (intake.suspect) return { intake, state: intake.suspect === 'unproven' ? 'held' : 'refused', reason: intake.suspect }
  const {
    people: { unknown },
    guards: { hold, when },
  } = intake.edition.definition
  const { person } = whoIs(book, intake)
  if (unknown === 'create' || person) {
    if (!hold) return null
    if (!when) return { intake, state: 'held', reason: 'every_one' }
    return says(rules, book, intake, person, when) ? { intake, state: 'held', reason: 'condition' } : null
  }
  return { intake, state: unknown === 'hold' ? 'held' : 'refused', reason: 'unknown_person' }
}

const whoIs = (book: Book, { known, email }: Intake) =>
  identifyBy({ keys: known ? [known] : [], email }, who => book.leads.get(whoKey(who)))

/** Whether a condition holds of an entry, and of who they would be by it; nothing of them is changed. */
function says(rules: Rules, book: Book, intake: Intake, person: LeadState | null, when: Condition): boolean {
  const lead = person ? structuredClone(person) : blankLead(intake.entryId, intake.email, rules.firstStatus, intake.at)
  for (const { key, property, onDifference } of intake.edition.definition.questions) {
    const value = intake.values[key]
    if (property && value !== undefined) fillProperty(lead, property, value, onDifference, person ? 'update' : 'new')
  }
  return fits(when, { rules, book, step: { lead, at: intake.at, intake } })
}

/** An entry's own part: who it is, what it says of them, and what it earns. */
export function whatEntrySays(
  rules: Rules,
  tools: Tools,
  book: Book,
  cause: Extract<PersonCause, { kind: 'entry' }>,
): { step: Case; activities: Activity[] } {
  const { intake } = cause
  const now = identify(rules, tools, book, cause)
  record(now, actingFor(rules, tools, book, now))
  const { lead } = now
  book.add(lead, { entry: { at: intake.at, point: intake.point.key, answers: intake.answers } })
  // What the browser did before they told who they are counts from now on, and once.
  const earlier = intake.visitor ? book.activitiesOf(intake.visitor) : []
  if (intake.visitor) book.add(lead, { visitor: intake.visitor })
  book.taken.set(intake.point.id, (book.taken.get(intake.point.id) ?? 0) + 1)
  const sent = entryActivity(intake.at, intake.point, intake.answers, intake.judged)
  return { step: now, activities: [...earlier, sent] }
}

/** What follows when it is settled who answers for the lead: the next step, what is told, and what is mailed. */
export function settleEntry(rules: Rules, tools: Tools, book: Book, now: Case): void {
  const stages = RUNS[now.cause]
  const acting = actingFor(rules, tools, book, now)
  const { actions } = now.intake.edition.definition
  if (stages.includes('promise')) carryOut(actions, 'promised', acting)
  if (!stages.includes('effects')) return
  // Without an owner only colleagues whom the point names are told.
  if (now.lead.ownerId) now.announcement = announcementFor(now)
  tellStandIn(rules, tools, now)
  // Nobody is written to about the past.
  const writes = now.intake.via !== 'archive'
  const confirmation = writes ? writeConfirmation(now, tools.newId, tools.sign) : null
  if (confirmation) now.mails.push(confirmation)
  carryOut(writes ? actions : actions.filter(a => a.kind !== 'mail'), 'told', acting)
  const claim = now.mails.some(l => l.kind === 'confirm') && now.claim && now.lead.claims.find(c => c.id === now.claim!.id)
  if (claim) claim.asked = true
}

/** Whoever looks after what is somebody's while they are away hears of it, too. */
function tellStandIn(rules: Rules, tools: Tools, now: Case): void {
  const { announcement } = now
  const instead = announcement && lookedAfterBy(rules.members, announcement.to, now.at)
  if (!announcement || !instead || instead.id === announcement.to) return
  const owner = rules.members.get(announcement.to)!.name
  now.notified.push({
    id: tools.newId(now.at),
    to: instead.id,
    subject: announcement.subject,
    text: `${announcement.text} ${owner} is away, and you stand in.`,
  })
}

const actingFor = (rules: Rules, tools: Tools, book: Book, now: Case): Acting => ({
  rules,
  tools,
  book,
  step: now,
  through: now.intake.point.name,
  known: now.known ? now.intake.edition.definition.people.known : 'new',
  changed: [],
})

/**
 * Finds who it is, or makes a new lead: by the point's own rule where it has one, else by the address.
 * The same address in any writing is one person. One that arrives on somebody who was found otherwise is only claimed.
 */
function identify(rules: Rules, tools: Tools, book: Book, cause: Extract<PersonCause, { kind: 'entry' }>): Case {
  const { intake } = cause
  const { person: found, address } = whoIs(book, intake)
  const lead = found ?? newLead(rules, tools, book, intake)
  const now: Case = {
    ...newStep(cause, lead, found === null),
    language: intake.language,
    intake,
    known: found !== null,
    claim: address === 'claimed' ? claimOf(tools, lead, intake) : null,
    recipient: null,
    consents: [],
    mails: [],
    announcement: null,
    notified: [],
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

/** Puts the answers where they belong, and what the point says beside them; keeps what was there before in the timeline. */
function record(now: Case, acting: Acting): void {
  const { intake, lead } = now
  const { definition } = intake.edition
  const { changed } = acting
  for (const question of definition.questions) {
    const answer = intake.answers[question.key]
    if (answer === undefined) continue
    if (question.kind === 'consent') now.consents.push({ question: question.key, words: question.label, allows: question.allows })
    const value = intake.values[question.key]
    const change =
      value === undefined || !question.property ? null : fillProperty(lead, question.property, value, question.onDifference, acting.known)
    if (change) changed.push(change)
  }
  carryOut(definition.actions, 'said', acting)
  lead.tags = [...new Set([...lead.tags, ...tagsChosen(definition.questions, intake.answers)])]
  lead.waitingSince ??= intake.at
  wake(acting.rules, now, 'entry')
  const agreed = now.consents.map(c => c.words)
  tell(now, 'entry', {
    entry: intake.entryId,
    key: intake.point.key,
    ...(intake.landing && { landing: intake.landing }),
    ...(changed.length && { changed }),
    ...(agreed.length && { agreed }),
  })
}

/** The tags that the choices made carry. */
export const tagsChosen = (questions: Question[], answers: Answers): string[] =>
  questions.flatMap(q =>
    q.choices.flatMap(c => (c.tag && Object.hasOwn(answers, q.key) && [answers[q.key]!].flat().includes(c.value) ? [c.tag] : [])),
  )
