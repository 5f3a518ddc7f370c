import { SENT_BACK_WORDS } from '#core/events/kinds/sent-back'
import type { Reaction } from '#core/events/kinds/answered'
import { nextOf } from '#core/follow-up/steps'
import type { FollowUp, StepHow } from '#core/follow-up/state'
import { takeBack } from '#core/follow-up/undo'
import { tell, type Rules, type Step, type Tools } from '#core/leads/book'
import type { LeadCause } from '#core/leads/causes'
import { nameOf, type LeadState } from '#core/leads/lead'
import { hold } from '#core/scoring/label-held'
import { afterWorking, type WorkingHours } from '#core/working-time'
import { isOpen } from '#core/vocabulary'

// What people do about a lead, day by day.

type Of<K extends LeadCause['kind']> = Extract<LeadCause, { kind: K }>
const iso = (at: number) => new Date(at).toISOString()

/** The hours by which a lead's clock runs: its owner's. */
export const hoursOf = (rules: Rules, { ownerId }: Pick<LeadState, 'ownerId'>): WorkingHours =>
  (ownerId === null ? undefined : rules.members.get(ownerId)?.hours) ?? rules.hours

const without = (followUp: FollowUp, ...fields: (keyof FollowUp)[]): FollowUp =>
  Object.fromEntries(Object.entries(followUp).filter(([field]) => !fields.includes(field as keyof FollowUp)))

/** Stops the clock of who waits, and says by what. */
export function answer(step: Step, by: Reaction): void {
  const { lead } = step
  if (lead.waitingSince === null) return
  tell(step, 'answered', { since: iso(lead.waitingSince), by })
  lead.waitingSince = null
  lead.followUp = without(lead.followUp, 'told')
}

/** Sets what is to be done next, or takes it away. */
export function putNextStep(
  { lead }: Pick<Step, 'lead'>,
  step: ({ text: string; due: number } & Partial<StepHow>) | null,
  at: number,
): void {
  lead.nextStep = step?.text ?? null
  lead.nextStepAt = step?.due ?? null
  const { kind, remind, every } = step ?? {}
  const rest = without(lead.followUp, 'step', 'reminded')
  lead.followUp = kind
    ? { ...rest, step: { kind, ...(remind?.length && { remind }), ...(every && { every }) }, ...(remind?.length && { reminded: at }) }
    : rest
}

/** The next step is another one, or was done: one that is done again and again is due again. */
export function nextStep(rules: Rules, step: Step, cause: Of<'next_step'>): void {
  const { lead } = step
  const [was, wasAt, how] = [lead.nextStep, lead.nextStepAt, lead.followUp.step]
  if (cause.step === null && was === null) {
    step.changed = false
    return
  }
  const again =
    cause.done && how?.every && cause.step === null
      ? { text: was!, due: nextOf(wasAt!, how.every, cause.at, hoursOf(rules, lead).zone), ...how }
      : null
  const next = cause.step ?? again
  tell(step, 'next_step', {
    text: next?.text ?? null,
    due: next ? iso(next.due) : null,
    ...(was && { was }),
    ...(cause.done && { done: true }),
    ...(next?.kind && { kind: next.kind }),
    ...(cause.outcome && { outcome: cause.outcome }),
  })
  putNextStep(step, next, cause.at)
}

/** The follow-up stands elsewhere. What has ended, or is put off, waits for nobody, and nothing is left to be done but to wake up. */
export function status(rules: Rules, step: Step, cause: Of<'status'>): void {
  const { lead, at } = step
  if (cause.status === lead.status && cause.until === undefined && !cause.outcome) {
    step.changed = false
    return
  }
  const { reason, value, on } = cause.outcome ?? {}
  const said = { ...(reason && { reason }), ...(value !== undefined && { value }), ...(on && { on }) }
  tell(step, 'status', { from: lead.status, to: cause.status, ...said, ...(cause.until !== undefined && { until: iso(cause.until) }) })
  const stage = rules.stages.get(cause.status)
  if (cause.status !== lead.status) lead.statusAt = at
  lead.status = cause.status
  lead.followUp = without(lead.followUp, 'wakeAt')
  if (isOpen(stage)) return
  lead.followUp = {
    ...without(lead.followUp, 'tries', 'accept'),
    outcome: { status: cause.status, at, ...said },
    ...(cause.until !== undefined && { wakeAt: cause.until }),
  }
  answer(step, 'closed')
  if (lead.nextStep !== null) {
    tell(step, 'next_step', { text: null, due: null, was: lead.nextStep })
    putNextStep(step, null, at)
  }
}

/** One of us called. Who was not reached is tried again, by the ladder of the plan; where that ends, nothing more is set. */
export function called(rules: Rules, step: Step, { result, text, at }: Of<'call'>): void {
  const { lead } = step
  tell(step, 'call', { result, ...(text && { text }) })
  const { ladder, count } = rules.plan.tries
  const reached = result === 'reached'
  if (reached || (count && result !== 'wrong_number')) answer(step, 'call')
  if (reached) {
    lead.followUp = without(lead.followUp, 'tries')
    return
  }
  if (result === 'wrong_number') return
  const tries = (lead.followUp.tries ?? 0) + 1
  lead.followUp = { ...lead.followUp, tries }
  const wait = ladder[tries - 1]
  const due = wait === undefined ? null : afterWorking(at, wait, hoursOf(rules, lead))
  const was = lead.nextStep
  // What is to be done about somebody later than the next try stays as it is.
  if (was !== null && lead.followUp.step?.kind !== 'call' && lead.nextStepAt! > at) return
  if (due === null && was === null) return
  const next = due === null ? null : { text: `Call again, try ${tries + 1}`, due, kind: 'call' as const, remind: [0] }
  tell(step, 'next_step', {
    text: next?.text ?? null,
    due: next && iso(next.due),
    ...(was && { was, done: true }),
    ...(next && { kind: 'call' }),
  })
  putNextStep(step, next, at)
}

/** A meeting does not take place. Who called it off themselves waits to hear from us; what was to be done for it is to be done no more. */
export function calledOff(tools: Tools, step: Step, { starts, with: owner, from, words, notice, at }: Of<'called_off'>): void {
  const { lead } = step
  tell(step, 'called_off', { at: iso(starts), with: owner, by: from, ...(words && { words }) })
  if (lead.nextStep !== null && lead.followUp.step?.kind === 'meeting' && lead.nextStepAt === starts) {
    tell(step, 'next_step', { text: null, due: null, was: lead.nextStep })
    putNextStep(step, null, at)
  }
  if (from === 'them') lead.waitingSince ??= at
  if (notice) step.notices.push({ id: tools.newId(at), to: owner, mail: true, topic: 'answer', ...notice })
}

/** Whoever has it found that it is not worth their time yet: it is nobody's, waits for nobody, and counts as less until then. */
export function sendBack(rules: Rules, step: Step, { why, words, label, until, at }: Of<'sent_back'>): void {
  const { lead } = step
  const byRules = [...new Set(lead.reasons.map(r => r.rule))].filter(Boolean)
  tell(step, 'sent_back', { why, ...(words && { words }), owner: lead.ownerId, label: lead.label, rules: byRules })
  answer(step, 'closed')
  if (lead.nextStep !== null) {
    tell(step, 'next_step', { text: null, due: null, was: lead.nextStep })
    putNextStep(step, null, at)
  }
  if (lead.ownerId !== null) {
    tell(step, 'owner', { from: lead.ownerId, to: null, by: 'person' })
    Object.assign(lead, { ownerId: null, lane: null, routeAt: null })
    step.owned = true
  }
  lead.followUp = without(lead.followUp, 'accept', 'told', 'tries')
  if (label === null) return
  const name = (step.actor && rules.members.get(step.actor)?.name) ?? ''
  hold(lead, label, { how: 'fixed', until, reason: SENT_BACK_WORDS[why], by: 'person', name, at })
}

/** Something was written down, anew or for the first time: whoever is named in it hears of it, once, and not from themselves. */
export function noted(rules: Rules, tools: Tools, step: Step, cause: Of<'note'> | Of<'note_changed'>): void {
  const { text, by, at } = cause
  const mentions = cause.mentions ?? []
  if (cause.kind === 'note')
    tell(step, 'note', { text: cause.text, ...(mentions.length && { mentions }), ...(cause.files?.length && { files: cause.files }) })
  else tell(step, 'note_changed', { of: cause.of, ...(text !== null && { text }) })
  const writer = (by && rules.members.get(by)?.name) ?? 'Somebody'
  for (const to of new Set(mentions)) {
    if (to === by || !rules.members.has(to)) continue
    step.notices.push({
      id: tools.newId(at),
      to,
      mail: true,
      topic: 'mention',
      subject: `${writer} mentions you: ${nameOf(step.lead)}`.slice(0, 200),
      text: (text ?? '').slice(0, 2000),
    })
  }
}

/** They answered a mail: they wait from now on, and whoever answers for them hears of it. What a program sent for them asks for nothing. */
export function replied(rules: Rules, tools: Tools, step: Step, { subject, text, quoted, from, auto, at }: Of<'replied'>): void {
  const { lead } = step
  tell(step, 'replied', { subject, text, ...(quoted && { quoted }), ...(from && { from }), ...(auto && { auto }) })
  if (auto) return
  lead.waitingSince ??= at
  wake(rules, step, 'entry')
  if (lead.ownerId !== null && rules.members.has(lead.ownerId))
    step.notices.push({
      id: tools.newId(at),
      to: lead.ownerId,
      mail: true,
      topic: 'answer',
      subject: `${nameOf(lead)} answered: ${subject}`.slice(0, 200),
      text: text.slice(0, 2000),
    })
}

/** Who was lost or parked is worked on again. Who has bought stays a customer, and waits like anybody. */
export function wake(rules: Rules, step: Step, by: 'entry' | 'time'): void {
  const { lead, at } = step
  const stage = rules.stages.get(lead.status)
  lead.followUp = without(lead.followUp, 'wakeAt')
  if (stage !== 'lost' && stage !== 'parked') return
  const { reason } = lead.followUp.outcome ?? {}
  tell(step, 'woke', { from: lead.status, since: iso(lead.statusAt), by, ...(reason && { reason }) })
  lead.status = by === 'entry' ? rules.firstStatus : rules.wakeStatus
  lead.statusAt = at
  if (by === 'entry') return
  const next = { text: `Look at ${nameOf(lead)} again`.slice(0, 200), due: at, kind: 'other' as const }
  tell(step, 'next_step', { text: next.text, due: iso(at), kind: 'other' })
  putNextStep(step, next, at)
}

/** Somebody else answers for them, or nobody: a person says so. */
export function owner(rules: Rules, tools: Tools, step: Step, cause: Of<'owner'>): void {
  const { lead, at } = step
  step.changed = cause.owner !== lead.ownerId
  if (!step.changed) return
  const from = lead.ownerId
  tell(step, 'owner', { from, to: cause.owner, by: 'person', ...(cause.words && { words: cause.words }) })
  Object.assign(lead, { ownerId: cause.owner, lane: null, routeAt: null })
  step.owned = true
  lead.followUp = without(lead.followUp, 'accept', 'told')
  const until =
    cause.within && cause.owner !== null && cause.owner !== cause.by ? afterWorking(at, cause.within, hoursOf(rules, lead)) : null
  if (until !== null) lead.followUp = { ...lead.followUp, accept: { from: from === cause.owner ? null : (from ?? cause.by), until } }
  if (!cause.quiet) handedOver(rules, tools, step, cause, until)
}

/** Whoever is given a lead hears of it from whoever gave it; who takes one over knows. */
function handedOver(rules: Rules, tools: Tools, step: Step, { owner: to, words, by, at }: Of<'owner'>, until: number | null): void {
  if (to === null || to === by) return
  const giver = (by && rules.members.get(by)?.name) ?? 'Somebody'
  const asked = until === null ? '' : ' Open them and say that you take them, or they go back.'
  const text = `${giver} gave them to you.${words ? ` “${words}”` : ''}${asked}`
  const subject = until === null ? `${nameOf(step.lead)} is yours now` : `Will you take ${nameOf(step.lead)}?`
  step.notices.push({ id: tools.newId(at), to, mail: true, subject, text })
}

/** Who was given a lead says whether they take it; what is not taken goes back to whoever had it, if they are still here. */
export function accept(rules: Rules, tools: Tools, step: Step, how: 'accepted' | 'declined' | 'lapsed'): void {
  const { lead, at } = step
  const asked = lead.followUp.accept
  if (!asked || lead.ownerId === null) {
    step.changed = false
    return
  }
  const to = lead.ownerId
  lead.followUp = without(lead.followUp, 'accept')
  const back = asked.from !== null && rules.members.has(asked.from) ? asked.from : null
  tell(step, 'hand_over', { how, to, back: how === 'accepted' ? null : back })
  step.changed = true
  if (how === 'accepted') return
  tell(step, 'owner', { from: to, to: back, by: 'plan', lane: 'Not taken' })
  Object.assign(lead, { ownerId: back, lane: null, routeAt: null })
  step.owned = true
  const name = rules.members.get(to)?.name ?? 'Whoever was given them'
  const subject = how === 'declined' ? `${name} did not take ${nameOf(lead)}` : `${name} did not take ${nameOf(lead)} in time`
  if (back !== null) step.notices.push({ id: tools.newId(at), to: back, mail: true, subject, text: 'They are yours again.' })
}

/** Somebody takes back what they did, as far as nobody went on from there. */
export function undone(step: Step, { of, act, undo, status: named }: Of<'undo'>): void {
  const back = takeBack(step.lead, undo)
  step.changed = back.length > 0
  if (!back.length) return
  if (back.includes('owner')) step.owned = true
  step.undone = of
  tell(step, 'undone', { of, act, ...(named && { status: named }) })
}
