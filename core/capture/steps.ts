import { announcementFor, notifiedFor } from '#core/capture/announcement'
import { whoKey, whoOf, type ForReview, type Case, type BatchContext, type Intake, type TooLate } from '#core/capture/case'
import { identify as identifyBy } from '#core/identity/identify'
import type { Condition } from '#core/conditions/condition'
import type { Judged } from '#core/conditions/judge'
import { judgeLead } from '#core/leads/about'
import { propertyOf, setProperty, type LeadState } from '#core/leads/lead'
import { closedText, openness } from '#core/points/closing'
import type { PeopleRules, Question } from '#core/points/definition'
import { lettersFor } from '#core/points/letters'
import type { PropertyValue } from '#core/properties/kinds'
import { routeTo } from '#core/routing/plan'
import { labelFor } from '#core/scoring/labels'
import { totalsAt, withActivities } from '#core/scoring/score'
import type { TimelineKind, TimelinePayloads } from '#core/timeline'

/**
 * The path of an entry after it was received and guarded. Each step changes the
 * case in hand and the batch, and nothing else; the database comes before and after.
 */
export function work(batch: BatchContext, intake: Intake): Case | ForReview | TooLate {
  const stopped = guard(batch, intake)
  if (stopped) return stopped
  const now = identify(batch, intake)
  record(now)
  score(batch, now)
  label(batch, now)
  route(batch, now)
  step(now)
  announce(batch, now)
  // Nobody is written to about the past.
  now.letters = intake.via === 'archive' ? [] : lettersFor(now, batch.newId, batch.sign)
  const claim = now.letters.some(l => l.kind === 'confirm') && now.claim && now.lead.claims.find(c => c.id === now.claim!.id)
  if (claim) claim.asked = true
  batch.taken.set(intake.point.id, (batch.taken.get(intake.point.id) ?? 0) + 1)
  return now
}

/** Stops what comes when the point is closed; sets aside what looks like a machine, and whom the point does not take in when we do not know them. */
export function guard(batch: BatchContext, intake: Intake): ForReview | TooLate | null {
  const { closing } = intake.edition.definition
  const how = openness(closing, intake.at, batch.taken.get(intake.point.id) ?? 0)
  if (how !== 'open') return { intake, closed: closedText(closing, how) }
  // Without a script nobody can work out a sum: somebody looks at what they sent.
  if (intake.suspect) return { intake, state: intake.suspect === 'unproven' ? 'held' : 'refused', reason: intake.suspect }
  const { unknown } = intake.edition.definition.people
  if (unknown === 'create' || whoIs(batch, intake).person) return null
  return { intake, state: unknown === 'hold' ? 'held' : 'refused', reason: 'unknown_person' }
}

const whoIs = (batch: BatchContext, { known, email }: Intake) => identifyBy({ keys: known ? [known] : [], email }, who => batch.leads.get(whoKey(who)))

/**
 * Finds who it is, or makes a new lead: by the point's own rule where it has one, else by the address.
 * The same address in any writing is one person. One that arrives on somebody who was found otherwise is only claimed.
 */
export function identify(batch: BatchContext, intake: Intake): Case {
  const { person: found, address } = whoIs(batch, intake)
  const lead = found ?? newLead(batch, intake)
  const now: Case = {
    intake, lead, known: found !== null, claim: address === 'claimed' ? claimOf(batch, lead, intake) : null, recipient: null,
    score: { fit: 0, interest: 0 }, timeline: [], consents: [], letters: [], announcement: null, notified: [],
  }
  now.recipient = now.claim?.address ?? (address === 'claimed' ? null : lead.email)
  // What they had only typed before they give now.
  if (!found || lead.givenAt === null) tell(now, 'came', { point: intake.point.name })
  lead.givenAt ??= intake.at
  if (now.claim?.isNew) tell(now, 'claimed', { address: now.claim.address })
  return now
}

function newLead(batch: BatchContext, intake: Intake): LeadState {
  const lead: LeadState = {
    id: batch.newId(intake.at), email: intake.email?.address ?? null, emailKey: intake.email?.key ?? null,
    firstName: null, lastName: null, company: null, properties: {}, tags: [],
    label: null, labelFloor: null, reasons: [], ownerId: null, status: batch.firstStatus, statusAt: intake.at,
    waitingSince: null, nextStep: null, nextStepAt: null, confirmedAt: null, leftAt: null, createdAt: intake.at, givenAt: intake.at, guardedAt: null, claims: [],
  }
  for (const who of whoOf(intake)) batch.leads.set(whoKey(who), lead)
  return lead
}

/** The claim of an address on a lead; null when somebody has judged it: then it is no news, and gets no mail. */
function claimOf(batch: BatchContext, lead: LeadState, { email, at }: Intake): Case['claim'] {
  const before = lead.claims.find(c => c.key === email!.key)
  if (before && before.theirs !== null) return null
  const claim = before ?? { id: batch.newId(at), key: email!.key, asked: false, theirs: null }
  if (!before) lead.claims.push(claim)
  return { id: claim.id, address: email!.address, key: claim.key, isNew: !before, wasAsked: claim.asked }
}

/** Puts the answers where they belong and the tags on; keeps what was there before in the timeline. */
export function record(now: Case): void {
  const { intake, lead } = now
  const { definition } = intake.edition
  const changed: TimelinePayloads['entry']['changed'] = []
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
  tell(now, 'entry', {
    entry: intake.entryId, point: intake.point.name, edition: intake.edition.number, changed, ...(intake.page && { page: intake.page }), ...(now.consents.length && { agreed: now.consents.map(c => c.words) }),
  })
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

/** How conditions are judged for the lead of a case, at the time of the entry. */
const judgeFor = (batch: BatchContext, now: Case) => {
  const about = batch.about(now)
  return (condition: Condition): Judged => judgeLead(condition, about)
}

/** Scores by who they are and what they did: this entry, and what the visitor did before it. */
export function score(batch: BatchContext, now: Case): void {
  const { intake, lead } = now
  const activity = { kind: 'entry' as const, at: intake.at, note: intake.point.name, attributes: (name: string) => name === 'point' ? intake.point.key : undefined }
  const earlier = intake.visitor ? batch.activitiesOf(intake.visitor) : []
  lead.reasons = withActivities(batch.scorecard, lead.reasons, judgeFor(batch, now), [...earlier, activity], intake.at).lines
  now.score = totalsAt(lead.reasons, intake.at, batch.scorecard.halfLifeDays)
}

/** Gives the label that the score makes; one that the point gives is a floor under it. */
export function label(batch: BatchContext, now: Case): void {
  const { lead, intake } = now
  const given = intake.edition.definition.afterwards.label
  if (given && batch.labels.indexOf(given) > batch.labels.indexOf(lead.labelFloor ?? '')) lead.labelFloor = given
  const { fit, interest } = now.score
  const next = labelFor(batch.scorecard.labels, batch.labels, fit, interest, lead.labelFloor)
  if (next.label === lead.label) return
  tell(now, 'label', { from: lead.label, to: next.label, because: next.because, fit, interest })
  lead.label = next.label
}

/** Gives an owner to a lead without one, or whose owner has left: the one the point names, else by the plan. */
export function route(batch: BatchContext, now: Case): void {
  const { lead } = now
  if (lead.ownerId && batch.members.has(lead.ownerId)) return
  const { owner } = now.intake.edition.definition.afterwards
  if (owner && batch.members.has(owner)) {
    tell(now, 'owner', { from: lead.ownerId, to: owner, point: now.intake.point.name, by: 'point' })
    lead.ownerId = owner
    return
  }
  const judge = judgeFor(batch, now)
  const routed = routeTo(batch.plan, condition => judge(condition).holds, id => batch.members.has(id), batch.turns)
  if (!routed) return
  tell(now, 'owner', { from: lead.ownerId, to: routed.member, lane: routed.lane.name, by: 'plan' })
  lead.ownerId = routed.member
}

/** Sets the next step that the point asks for, where none is set. */
export function step(now: Case): void {
  const wished = now.intake.edition.definition.afterwards.nextStep
  if (!wished || now.lead.nextStep !== null) return
  now.lead.nextStep = wished.text
  now.lead.nextStepAt = now.intake.at + wished.days * 86_400_000
  tell(now, 'next_step', { text: wished.text, due: new Date(now.lead.nextStepAt).toISOString() })
}

/** Writes what the owner is told, and colleagues whom the point names. Without an owner only they are told. */
export function announce(batch: BatchContext, now: Case): void {
  now.notified = notifiedFor(batch, now)
  if (now.lead.ownerId) now.announcement = announcementFor(now)
}

function tell<K extends TimelineKind>(now: Case, kind: K, payload: TimelinePayloads[K]): void {
  now.timeline.push({ lead: now.lead.id, at: now.intake.at, kind, actor: null, payload } as Case['timeline'][number])
}
