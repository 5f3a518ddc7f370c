import { whatEntrySays } from '#core/capture/steps'
import { correct } from '#core/capture/correct'
import { blankLead, newStep, putOn, tell, whoKey, type Book, type Rules, type Step, type Tools } from '#core/leads/book'
import type { Filled } from '#core/events/kinds/brought-in'
import { same } from '#core/leads/fill-property'
import { RUNS, type Cause, type LeadCause, type PersonCause } from '#core/leads/causes'
import type { DeedKind } from '#core/scoring/deeds'
import { clickedActivity } from '#core/scoring/activities'
import { clearProperty, nameOf, propertyOf, setProperty, type LeadState } from '#core/leads/lead'
import { label, lane, score } from '#core/leads/stages'
import { repriced, toldTo, type Activity } from '#core/scoring/score'

/**
 * The one way from causes to changed leads, up to the lane that a lead goes to. Causes are taken in their order; what one did, the
 * next finds. Pure: the database comes before (the book) and after (what the steps say).
 * @param causes of leads that are in the book; entries have passed their guards
 * @returns a step for each, in their order
 */
export function applyBatch(rules: Rules, tools: Tools, book: Book, causes: Cause[]): Step[] {
  return causes.map(cause => applyOne(rules, tools, book, cause))
}

function applyOne(rules: Rules, tools: Tools, book: Book, cause: Cause): Step {
  const { step, activities } = ownPart(rules, tools, book, cause)
  const stages = RUNS[cause.kind]
  if (stages.includes('fit')) score(rules, book, step, activities)
  if (stages.includes('label')) label(rules, step)
  if (stages.includes('route') && asksForOwner(cause)) lane(rules, book, step)
  if (!stages.includes('effects')) step.notices = []
  return step
}

/** Entries go to somebody; people of a table only where that is wanted. */
const asksForOwner = (cause: Cause) => cause.kind !== 'row' || cause.owner === 'plan'

interface Own {
  step: Step
  activities: Activity[]
}
const quiet = (step: Step): Own => ({ step, activities: [] })

/** What a cause says of the lead by itself. */
function ownPart(rules: Rules, tools: Tools, book: Book, cause: Cause): Own {
  if (cause.kind === 'entry') return whatEntrySays(rules, tools, book, cause)
  if (cause.kind === 'row') return quiet(row(rules, tools, book, cause))
  if (cause.kind === 'typed') return typed(rules, tools, book, cause)
  const lead = book.byId.get(cause.lead)
  if (!lead) throw new Error(`The lead ${cause.lead} is not in the book.`)
  const step = newStep(cause, lead, false)
  const activities = ofLead(rules, tools, book, step, cause)
  return { step, activities }
}

/** What browsers tell of. */
const OF_TRAIL: ReadonlySet<DeedKind> = new Set(['page_view', 'event'])
/** Most causes are nothing that earns interest. */
const NOTHING: Activity[] = []

/** @returns what earns interest */
function ofLead(rules: Rules, tools: Tools, book: Book, step: Step, cause: LeadCause): Activity[] {
  const { lead } = step
  switch (cause.kind) {
    case 'activities':
      step.changed = false
      return cause.activities
    case 'browser': {
      step.changed = false
      const ofTrail = new Set(rules.scorecard.interest.filter(rule => OF_TRAIL.has(rule.on)).map(rule => rule.key))
      lead.reasons = lead.reasons.filter(line => !ofTrail.has(line.rule))
      return cause.activities
    }
    case 'correction': {
      const came = correct(lead, cause.questions, cause.before, cause.after)
      tell(step, 'corrected', { entry: cause.entry, point: cause.point, ...came })
      if (lead.ownerId)
        step.notices.push({
          id: tools.newId(cause.at),
          to: lead.ownerId,
          subject: `${nameOf(lead)} ${cause.notice}`,
          text: '',
          mail: false,
        })
      return NOTHING
    }
    case 'note':
      lead.waitingSince = null
      tell(step, 'note', { text: cause.text })
      return NOTHING
    case 'status':
      lead.waitingSince = null
      // Setting the status that already stands is still an answer to who waits, but no news.
      if (cause.status === lead.status) return NOTHING
      tell(step, 'status', { from: lead.status, to: cause.status })
      lead.status = cause.status
      lead.statusAt = cause.at
      return NOTHING
    case 'owner':
      step.changed = cause.owner !== lead.ownerId
      if (!step.changed) return NOTHING
      tell(step, 'owner', { from: lead.ownerId, to: cause.owner, by: 'person' })
      lead.ownerId = cause.owner
      step.owned = true
      return NOTHING
    case 'next_step': {
      step.changed = cause.step !== null || lead.nextStep !== null
      if (!step.changed) return NOTHING
      const due = cause.step ? new Date(cause.step.due).toISOString() : null
      tell(step, 'next_step', {
        text: cause.step?.text ?? null,
        due,
        ...(lead.nextStep && { was: lead.nextStep }),
        ...(cause.done && { done: true }),
      })
      nextStep(lead, cause.step)
      return NOTHING
    }
    case 'lists': {
      const before = book.beside(lead).lists ?? []
      putOn(rules, book, step, { on: cause.lists, off: before.filter(id => !cause.lists.includes(id)) })
      step.changed = false
      return NOTHING
    }
    case 'listed':
      // The list was published for all of the table at once.
      if (cause.isNew) tell(step, 'lists', { on: [cause.list], off: [] })
      book.add(lead, { lists: { on: [cause.list], off: [] } })
      step.changed = false
      return NOTHING
    case 'row_undone':
      undoRow(rules, book, step, cause)
      return NOTHING
    case 'meeting': {
      const starts = new Date(cause.starts).toISOString()
      nextStep(lead, { text: `Meet ${nameOf(lead)}`.slice(0, 200), due: cause.starts })
      tell(step, 'meeting', {
        at: starts,
        minutes: cause.minutes,
        with: cause.with,
        ...(cause.was !== undefined && { was: new Date(cause.was).toISOString() }),
      })
      step.notices.push({ id: tools.newId(cause.at), to: cause.with, mail: true, ...cause.notice })
      // One that is moved is the same meeting.
      return cause.was === undefined ? [{ kind: 'meeting', at: cause.at, attributes: () => undefined }] : NOTHING
    }
    case 'confirmed':
      lead.confirmedAt = cause.at
      tell(step, 'confirmed', { email: cause.address })
      return NOTHING
    case 'claim_confirmed':
      if (cause.isNew) tell(step, 'confirmed', { email: cause.claim.address })
      if (cause.becomes) takeAddress(book, lead, cause.claim, cause.at, cause.claim.at)
      step.changed = cause.becomes
      return NOTHING
    case 'judged':
      tell(step, 'judged', { email: cause.claim.address, theirs: cause.theirs })
      if (cause.theirs) takeAddress(book, lead, cause.claim, cause.claim.confirmedAt, null)
      step.changed = cause.theirs
      return NOTHING
    case 'vouched':
      lead.guardedAt = null
      tell(step, 'judged', { email: lead.email!, theirs: true })
      return NOTHING
    case 'unsubscribed':
      lead.unsubscribedAt = cause.at
      tell(step, 'unsubscribed', { email: cause.address })
      return NOTHING
    case 'clicked':
      step.changed = false
      tell(step, 'clicked', { subject: cause.subject })
      return [clickedActivity(cause.at, cause.subject)]
    case 'due':
      step.changed = false
      return NOTHING
    case 'ruleset':
      step.changed = false
      lead.reasons = repriced(rules.scorecard, lead.reasons, cause.anew?.rules)
      return cause.anew ? toldTo(cause.anew.activities, cause.anew.rules) : NOTHING
  }
}

/** Sets what is to be done next, or takes it away; either answers who waits. */
function nextStep(lead: LeadState, step: { text: string; due: number } | null): void {
  lead.nextStep = step?.text ?? null
  lead.nextStepAt = step?.due ?? null
  lead.waitingSince = null
}

/** Gives a lead the address of a claim. @param guarded since when nothing from before goes to it; null: somebody vouches for it */
function takeAddress(
  book: Book,
  lead: LeadState,
  { address, key }: { address: string; key: string },
  confirmedAt: number | null,
  guarded: number | null,
): void {
  if (lead.emailKey !== null) book.leads.delete(whoKey({ rule: 'email', key: lead.emailKey }))
  lead.email = address
  lead.emailKey = key
  lead.confirmedAt = confirmedAt
  lead.guardedAt = guarded
  book.leads.set(whoKey({ rule: 'email', key }), lead)
}

/** A lead that is in the book by its id, or a new one, which is put there. */
function leadFor(
  rules: Rules,
  tools: Tools,
  book: Book,
  cause: Extract<PersonCause, { kind: 'row' | 'typed' }>,
): { lead: LeadState; fresh: boolean } {
  const found = cause.lead === null ? undefined : book.byId.get(cause.lead)
  const lead = found ?? blankLead(tools.newId(cause.at), cause.address, rules.firstStatus, cause.at)
  if (!found) {
    book.byId.set(lead.id, lead)
    book.leads.set(whoKey({ rule: 'email', key: cause.address.key }), lead)
  }
  return { lead, fresh: !found }
}

/** A row of a table fills gaps, or replaces what is known. Nobody is told of it here. */
function row(rules: Rules, tools: Tools, book: Book, cause: Extract<PersonCause, { kind: 'row' }>): Step {
  const { lead, fresh } = leadFor(rules, tools, book, cause)
  const step = newStep(cause, lead, fresh)
  if (fresh) {
    lead.submittedAt = cause.at
    tell(step, 'brought_in', { list: cause.list })
  }
  const filled: Filled[] = []
  for (const [property, now] of Object.entries(cause.values)) {
    const was = propertyOf(lead, property)
    if ((was !== null && !cause.replace) || (was !== null && same(was, now))) continue
    setProperty(lead, property, now)
    filled.push({ property, was, now })
  }
  if (!fresh) {
    step.changed = filled.length > 0
    if (filled.length) tell(step, 'brought_in', { list: cause.list, filled })
  }
  const { owner } = cause
  // Whoever is meant may have left while the table came in.
  if (typeof owner === 'object' && rules.members.has(owner.member) && !(lead.ownerId && rules.members.has(lead.ownerId))) {
    tell(step, 'owner', { from: lead.ownerId, to: owner.member, by: 'person' })
    lead.ownerId = owner.member
    step.owned = true
    step.changed = true
  }
  return step
}

/** Takes back what a row had done, as far as nobody has changed it since. */
function undoRow(rules: Rules, book: Book, step: Step, cause: Extract<LeadCause, { kind: 'row_undone' }>): void {
  const { lead } = step
  tell(step, 'taken_back', { list: cause.table })
  for (const { property, was, now } of cause.filled) {
    const stands = propertyOf(lead, property)
    if (stands === null || !same(stands, now)) continue
    if (was === null) clearProperty(lead, property)
    else setProperty(lead, property, was)
  }
  if (cause.list) putOn(rules, book, step, { on: [], off: [cause.list] })
  if (cause.owner !== null && lead.ownerId === cause.owner) {
    tell(step, 'owner', { from: cause.owner, to: null, by: 'person' })
    lead.ownerId = null
  }
}

/** What was typed and not sent makes a lead that is unsubmitted, or goes on with the one that it made before. */
function typed(rules: Rules, tools: Tools, book: Book, cause: Extract<PersonCause, { kind: 'typed' }>): Own {
  const { lead, fresh } = leadFor(rules, tools, book, cause)
  const step = newStep(cause, lead, fresh)
  lead.email = cause.address.address
  lead.emailKey = cause.address.key
  for (const [property, value] of Object.entries(cause.values)) if (propertyOf(lead, property) !== value) setProperty(lead, property, value)
  if (!fresh) return { step, activities: [] }
  tell(step, 'typed', { email: cause.address.address })
  book.add(lead, { visitor: cause.visitor })
  return { step, activities: book.activitiesOf(cause.visitor) }
}
