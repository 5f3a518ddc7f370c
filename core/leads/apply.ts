import { whatEntrySays } from '#core/capture/steps'
import { correct } from '#core/capture/correct'
import { blankLead, newStep, putOn, tell, whoKey, type Book, type Rules, type Step, type Tools } from '#core/leads/book'
import { isUndoable } from '#core/events/kinds/undone'
import { snapshotOf } from '#core/follow-up/undo'
import { watch } from '#core/leads/watch'
import { calledOff, accept, answer, called, nextStep, owner, putNextStep, replied, status, undone, noted, sendBack } from '#core/leads/work'
import type { Filled } from '#core/events/kinds/brought-in'
import { same } from '#core/leads/fill-property'
import { RUNS, type Cause, type LeadCause, type PersonCause } from '#core/leads/causes'
import type { DeedKind } from '#core/scoring/deeds'
import { clickedActivity } from '#core/scoring/activities'
import { clearProperty, nameOf, propertyOf, setProperty, type LeadState } from '#core/leads/lead'
import { linesApart, mergeInto, mergeLines, splitFrom } from '#core/leads/merge'
import { hold } from '#core/scoring/label-held'
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
  if (stages.includes('route') && asksForOwner(cause, step)) lane(rules, book, step)
  watch(rules, tools, step)
  if (!stages.includes('effects')) step.notices = []
  return step
}

/** Entries go to somebody; people of a table only where that is wanted, and who waits for an owner when it is time. */
function asksForOwner(cause: Cause, { lead, at }: Step): boolean {
  if (cause.kind === 'due') return lead.routeAt !== null && lead.routeAt <= at
  return (cause.kind !== 'row' && cause.kind !== 'made') || cause.owner === 'plan'
}

interface Own {
  step: Step
  activities: Activity[]
}
const quiet = (step: Step): Own => ({ step, activities: [] })

/** What a cause says of the lead by itself. */
function ownPart(rules: Rules, tools: Tools, book: Book, cause: Cause): Own {
  if (cause.kind === 'entry') return whatEntrySays(rules, tools, book, cause)
  if (cause.kind === 'row') return quiet(row(rules, tools, book, cause))
  if (cause.kind === 'made') return quiet(made(rules, tools, book, cause))
  if (cause.kind === 'typed') return typed(rules, tools, book, cause)
  const lead = book.byId.get(cause.lead)
  if (!lead) throw new Error(`The lead ${cause.lead} is not in the book.`)
  const step = newStep(cause, lead, false)
  if (isUndoable(cause.kind)) step.before = snapshotOf(lead)
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
    case 'browser':
      step.changed = false
      lead.reasons = withoutTrail(rules, lead.reasons)
      return cause.activities
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
    case 'edited': {
      const was = propertyOf(lead, cause.property)
      step.changed = !(was === null ? cause.value === null : cause.value !== null && same(was, cause.value))
      if (!step.changed) return NOTHING
      tell(step, 'edited', { property: cause.property, was, now: cause.value })
      if (cause.value === null) clearProperty(lead, cause.property)
      else setProperty(lead, cause.property, cause.value)
      return NOTHING
    }
    case 'note':
    case 'note_changed':
      noted(rules, tools, step, cause)
      return NOTHING
    case 'status':
      status(rules, step, cause)
      return NOTHING
    case 'call':
      called(rules, step, cause)
      return NOTHING
    case 'wrote':
      tell(step, 'wrote', {
        mail: cause.mail,
        subject: cause.subject,
        text: cause.text,
        ...(cause.files?.length && { files: cause.files }),
      })
      answer(step, 'mail')
      return NOTHING
    case 'talked': {
      const { talk, point, what, rating, words } = cause
      tell(step, 'talked', { talk, point, what, ...(rating && { rating }), ...(words && { words }) })
      if (what === 'answered') answer(step, 'chat')
      return NOTHING
    }
    case 'replied':
      replied(rules, tools, step, cause)
      return NOTHING
    case 'owner':
      owner(rules, tools, step, cause)
      return NOTHING
    case 'sent_back':
      sendBack(rules, step, cause)
      return NOTHING
    case 'accept':
      accept(rules, tools, step, cause.accepts ? 'accepted' : 'declined')
      return NOTHING
    case 'next_step':
      nextStep(rules, step, cause)
      return NOTHING
    case 'undo':
      undone(step, cause)
      return NOTHING
    case 'tags': {
      const on = cause.on.filter(tag => !lead.tags.includes(tag))
      const off = cause.off.filter(tag => lead.tags.includes(tag))
      step.changed = on.length > 0 || off.length > 0
      if (!step.changed) return NOTHING
      tell(step, 'tags', { on, off })
      lead.tags = [...lead.tags.filter(tag => !off.includes(tag)), ...on]
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
      putNextStep(step, { text: `Meet ${nameOf(lead)}`.slice(0, 200), due: cause.starts, kind: 'meeting', remind: [15] }, cause.at)
      answer(step, 'meeting')
      tell(step, 'meeting', {
        at: starts,
        minutes: cause.minutes,
        with: cause.with,
        ...(cause.was !== undefined && { was: new Date(cause.was).toISOString() }),
        ...(cause.by !== null && { by: 'us' as const }),
        ...(cause.words && { words: cause.words }),
      })
      if (cause.notice) step.notices.push({ id: tools.newId(cause.at), to: cause.with, mail: true, topic: 'answer', ...cause.notice })
      // One that is moved is the same meeting.
      return cause.was === undefined ? [{ kind: 'meeting', at: cause.at, attributes: () => undefined }] : NOTHING
    }
    case 'called_off':
      calledOff(tools, step, cause)
      return NOTHING
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
    case 'label_held': {
      const { label: wished, how, until, reason, at } = cause
      if (wished === null && lead.labelFloor === null) {
        step.changed = false
        return NOTHING
      }
      const name = (step.actor && rules.members.get(step.actor)?.name) ?? ''
      tell(
        step,
        'label_held',
        wished === null
          ? { label: null, was: lead.labelFloor }
          : { label: wished, how, ...(until !== null && { until: new Date(until).toISOString() }), reason },
      )
      hold(lead, wished, wished === null ? null : { how, until, reason, by: 'person', name, at })
      return NOTHING
    }
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
    case 'merged':
      return merged(rules, tools, book, step, cause)
    case 'split': {
      tell(step, 'split', { lead: cause.other.id, name: cause.other.name })
      lead.reasons = linesApart(rules.scorecard, lead.reasons, cause.states.added, cause.at).filter(
        l => l.axis === 'fit' || !cause.without.includes(l.at),
      )
      const owner = lead.ownerId
      splitFrom(lead, cause.states)
      step.owned = lead.ownerId !== owner
      if (lead.waitingSince !== null && cause.without.includes(lead.waitingSince)) lead.waitingSince = null
      putOn(rules, book, step, { on: [], off: cause.states.lists })
      return trailAnew(rules, lead, cause.trail)
    }
    case 'restored':
      tell(step, 'split', { lead: cause.other.id, name: cause.other.name })
      lead.reasons = repriced(rules.scorecard, lead.reasons)
      lead.waitingSince = cause.waitingSince
      if (cause.stepIsDone) Object.assign(lead, { nextStep: null, nextStepAt: null })
      // It is on them already; whoever counts hears of it.
      if (cause.lists.length) tell(step, 'lists', { on: cause.lists, off: [] })
      return [...trailAnew(rules, lead, cause.trail), ...cause.since]
    case 'due':
      step.changed = false
      return NOTHING
    case 'ruleset':
      step.changed = false
      lead.reasons = repriced(rules.scorecard, lead.reasons, cause.anew?.rules)
      return cause.anew ? toldTo(cause.anew.activities, cause.anew.rules) : NOTHING
  }
}

/** Another lead goes into this one; whoever answered for it hears of that. */
function merged(
  rules: Rules,
  tools: Tools,
  book: Book,
  step: Step,
  { gone, take, lists, at }: Extract<LeadCause, { kind: 'merged' }>,
): Activity[] {
  const { lead } = step
  const was = lead.ownerId
  const { lines } = mergeLines(rules.scorecard, lead, gone)
  lead.reasons = lines
  const taken = mergeInto(lead, gone, new Set(take), rules.labels)
  step.owned = lead.ownerId !== was
  tell(step, 'merged', { lead: gone.id, name: nameOf(gone), taken })
  putOn(rules, book, step, { on: lists, off: [] })
  for (const loser of new Set([gone.ownerId, was])) {
    if (loser === null || loser === lead.ownerId || loser === step.actor || !rules.members.has(loser)) continue
    const owner = lead.ownerId === null ? undefined : rules.members.get(lead.ownerId)
    const subject = `${nameOf(gone)} was joined with ${nameOf(lead)}`
    const text = `They are the same person. ${owner ? `${owner.name} answers for them now.` : 'Nobody answers for them yet.'}`
    step.notices.push({ id: tools.newId(at), to: loser, mail: false, subject, text })
  }
  return NOTHING
}

/** Lines without those of what browsers did. */
function withoutTrail(rules: Rules, lines: LeadState['reasons']): LeadState['reasons'] {
  const ofTrail = new Set(rules.scorecard.interest.filter(rule => OF_TRAIL.has(rule.on)).map(rule => rule.key))
  return lines.filter(line => !ofTrail.has(line.rule))
}

/** What the lead's browsers did is earned anew; null: nothing of it changed. */
function trailAnew(rules: Rules, lead: LeadState, trail: Activity[] | null): Activity[] {
  if (trail === null) return NOTHING
  lead.reasons = withoutTrail(rules, lead.reasons)
  return trail
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

/** Somebody whom one of us wrote down: a lead like any other, who waits for nobody yet. */
function made(rules: Rules, tools: Tools, book: Book, cause: Extract<PersonCause, { kind: 'made' }>): Step {
  const lead = { ...blankLead(tools.newId(cause.at), cause.address, rules.firstStatus, cause.at), submittedAt: cause.at }
  book.byId.set(lead.id, lead)
  const step = newStep(cause, lead, true)
  tell(step, 'made', { ...(cause.from && { from: cause.from }) })
  for (const [property, value] of Object.entries(cause.values)) setProperty(lead, property, value)
  const { owner: wished } = cause
  if (typeof wished !== 'object' || !rules.members.has(wished.member)) return step
  tell(step, 'owner', { from: null, to: wished.member, by: 'person' })
  lead.ownerId = wished.member
  step.owned = true
  if (wished.member !== cause.by)
    step.notices.push({
      id: tools.newId(cause.at),
      to: wished.member,
      mail: true,
      subject: `${nameOf(lead)} is yours`,
      text: `${(cause.by && rules.members.get(cause.by)?.name) ?? 'Somebody'} wrote them down.${cause.from ? ` “${cause.from}”` : ''}`,
    })
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
