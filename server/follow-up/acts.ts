import type { LeadCause } from '#core/leads/causes'
import type { SentBackWhy } from '#core/events/kinds/sent-back'
import { isUndoable } from '#core/events/kinds/undone'
import type { Ask, CallResult, Outcome, StepHow } from '#core/follow-up/state'
import type { Step } from '#core/leads/book'
import { mentionsIn } from '#core/follow-up/mentions'
import { may } from '#core/roles'
import type { Hold } from '#core/scoring/label-held'
import type { Status } from '#core/vocabulary'
import { leadState } from '#db/book'
import type { PropertyValue } from '#core/properties/kinds'
import { propertyOf } from '#core/leads/lead'
import { readValue } from '#core/points/values'
import type { Tx } from '#db/client'
import { actOf, noteOf } from '#db/events'
import { takeLeadFiles } from '#db/files'
import { changeLeads } from '#server/ingest/change'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

/** Something a person does about a lead. Each stands in the timeline. Calls answer who waits; closing a lead lets it wait no more. */
export type LeadAct =
  /** `was`: what whoever did it saw; where something else stands by now, nothing is done. */
  | {
      do: 'status'
      status: string
      was?: string
      outcome?: Pick<Outcome, 'reason' | 'value' | 'on'>
      until?: Date
      /** What the status asks for may be left out: it is of the past. */ lenient?: boolean
    }
  | { do: 'owner'; owner: string | null; was?: string | null; words?: string; quiet?: boolean; within?: number }
  | { do: 'edit'; property: string; value: string | string[] | null; was?: PropertyValue | null }
  | { do: 'note'; text: string; files?: string[] }
  /** Writes a note of one's own anew, or takes it away (null); `was`: what stood there as it was seen. */
  | { do: 'note_changed'; of: string; text: string | null; was: string | null }
  | { do: 'call'; result: CallResult; text?: string }
  | {
      do: 'next_step'
      step: ({ text: string; due: Date } & Partial<StepHow>) | null
      was?: string | null
      done?: boolean
      outcome?: string
    }
  | { do: 'tags'; on: string[]; off: string[] }
  | { do: 'lists'; lists: string[] }
  | { do: 'label'; label: string | null; how: Hold; until: Date | null; reason: string }
  /** Takes back an act of one's own, by the version of its event. */
  | { do: 'undo'; of: number }
  | { do: 'accept'; accepts: boolean }
  | { do: 'sent_back'; why: SentBackWhy; words: string }

/** Who was sent back counts as less for so many days, unless somebody says otherwise. */
const SENT_BACK_DAYS = 30

/** An act that is known from what it says. */
export type PlainAct = Exclude<LeadAct, { do: 'undo' | 'note' | 'note_changed' }>

/**
 * Carries an act out in the transaction at hand.
 * @param mails whether members are mailed what they are told; of the past they are not
 * @returns the step that was made
 * @throws 404 without such a lead; 422 for what does not exist or is not said; 409 where a colleague has done otherwise since
 */
export async function carryOut(tx: Tx, ruleset: Ruleset, lead: string, actor: string, act: LeadAct, at: Date, mails = true): Promise<Step> {
  const cause = await causeIn(tx, ruleset, lead, actor, act, at)
  const [step] = await changeLeads(tx, ruleset, [{ at: at.getTime(), by: actor, lead, ...cause } as LeadCause], mails)
  if (!step) throw problem(404, 'There is no such lead.')
  seenOtherwise(ruleset, act, step)
  if (act.do === 'undo' && !step.changes.undone) throw problem(409, 'Somebody went on from there, so there is nothing left to take back.')
  if (act.do === 'accept' && !step.changes.hand_over)
    throw problem(409, 'They need not be taken any more: somebody was quicker, or the time is over.')
  return step
}

/** What an act does, with what has to be read for it under the lead's lock. */
async function causeIn(tx: Tx, ruleset: Ruleset, lead: string, actor: string, act: LeadAct, at: Date) {
  switch (act.do) {
    case 'undo':
      return undoing(tx, lead, actor, act.of)
    case 'note_changed':
      return rewriting(tx, ruleset, lead, actor, act)
    case 'note': {
      const files = act.files?.length ? await takeLeadFiles(tx, lead, actor, act.files, null) : []
      if (files.length !== (act.files?.length ?? 0))
        throw problem(422, 'A file is not there any more. Add it again.', [{ field: 'files', message: 'Add the file again.' }])
      return { kind: 'note' as const, text: act.text, mentions: mentionsOf(ruleset, act.text), files: [...files] }
    }
    default:
      return causeOf(ruleset, act, at)
  }
}

const mentionsOf = (ruleset: Ruleset, text: string) => mentionsIn(text, [...ruleset.members.values()])

/** A note of one's own is written anew. Who is named for the first time is told. */
async function rewriting(
  tx: Tx,
  ruleset: Ruleset,
  lead: string,
  actor: string,
  { of, text, was }: Extract<LeadAct, { do: 'note_changed' }>,
) {
  await leadState(tx, lead)
  const note = await noteOf(tx, lead, of)
  if (!note) throw problem(404, 'There is no such note.')
  if (note.actorId !== actor) throw problem(403, 'Only who wrote a note can change it.')
  if (note.text !== was)
    throw problem(
      409,
      note.text === null ? 'The note was removed meanwhile.' : 'The note was changed meanwhile. Look at it and change it again.',
    )
  const before = new Set(mentionsOf(ruleset, note.said))
  return { kind: 'note_changed' as const, of, text, mentions: mentionsOf(ruleset, text ?? '').filter(id => !before.has(id)) }
}

/** Whoever acted saw what stood before: else a colleague was quicker, and they choose anew. The transaction ends with this. */
function seenOtherwise(ruleset: Ruleset, act: LeadAct, step: Step): void {
  if (!('was' in act) || act.was === undefined || act.do === 'note_changed') return
  const { status, owner, next_step: next, edited } = step.changes
  const stood = {
    status: status?.from ?? step.lead.status,
    owner: owner ? owner.from : step.lead.ownerId,
    next_step: next ? (next.was ?? null) : step.lead.nextStep,
    edit: edited ? edited.was : act.do === 'edit' ? propertyOf(step.lead, act.property) : null,
  }[act.do]
  if (JSON.stringify(stood ?? null) === JSON.stringify(act.was ?? null)) return
  const words = {
    status: () => `They are “${ruleset.statuses.find(s => s.key === stood)?.name ?? String(stood)}” by now.`,
    owner: () =>
      stood
        ? `${ruleset.members.get(String(stood))?.name ?? 'Somebody who has left'} answers for them by now.`
        : 'Nobody answers for them by now.',
    next_step: () => (stood ? `The next step is “${String(stood)}” by now.` : 'The next step is done or taken away by now.'),
    edit: () => `There stands ${stood === null || stood === undefined ? 'nothing' : `“${[stood].flat().join(', ')}”`} by now.`,
  }[act.do]()
  throw problem(409, `${words} Look at it and choose again.`)
}

/** A value as a property keeps it. @throws 422 saying what to do */
export function valueOf(ruleset: Ruleset, key: string, typed: string | string[] | null): PropertyValue | null {
  const property = ruleset.properties.find(p => p.key === key && !p.retired)
  const wrong = (message: string) => problem(422, message, [{ field: 'value', message }])
  if (!property) throw wrong('There is no such property.')
  if (key === 'email') throw wrong('Their address is who they are. Where it changed, join them with who has the new one.')
  if (property.kind === 'file') throw wrong('Files come with entries.')
  if (typed === null || (typeof typed === 'string' ? !typed.trim() : !typed.length)) return null
  const read = readValue(property, typed, ruleset.reading)
  if ('flaw' in read) throw wrong(read.flaw)
  return read.value
}

async function undoing(tx: Tx, lead: string, actor: string, of: number) {
  // Who reads an act to take it back, and who takes it back meanwhile, come one after the other.
  await leadState(tx, lead)
  const row = await actOf(tx, lead, of)
  if (!row?.undo || !isUndoable(row.cause)) throw problem(404, 'There is nothing there that can be taken back.')
  if (row.actorId !== actor) throw problem(403, 'Only who did it can take it back.')
  if (row.undoneAt) throw problem(409, 'That was taken back already.')
  return { kind: 'undo' as const, of, act: row.cause, undo: row.undo, ...(row.status && { status: row.status }) }
}

const ASKED: Record<Ask, { field: string; message: string; given: (act: Extract<LeadAct, { do: 'status' }>) => boolean }> = {
  reason: { field: 'reason', message: 'Say why.', given: a => Boolean(a.outcome?.reason) },
  value: { field: 'value', message: 'Say what it is worth.', given: a => a.outcome?.value !== undefined },
  day: { field: 'on', message: 'Say on which day it was agreed.', given: a => Boolean(a.outcome?.on) },
  until: { field: 'until', message: 'Say when to look at them again.', given: a => a.until !== undefined },
}

function statusOf(ruleset: Ruleset, act: Extract<LeadAct, { do: 'status' }>, at: Date): Status {
  const status = ruleset.statuses.find(s => s.key === act.status)
  if (!status) throw problem(422, 'There is no such status.', [{ field: 'status', message: 'Choose one of the statuses of the house.' }])
  if (act.lenient) return status
  const missing = status.asks.filter(ask => !ASKED[ask].given(act)).map(ask => ({ field: ASKED[ask].field, message: ASKED[ask].message }))
  if (missing.length) throw problem(422, `“${status.name}” asks for more. ${missing.map(m => m.message).join(' ')}`, missing)
  if (act.until && act.until <= at)
    throw problem(422, 'That moment is over.', [{ field: 'until', message: 'Choose a moment that is still to come.' }])
  return status
}

/** What an act does to a lead, once it is known to be possible. @throws 422 */
export function causeOf(ruleset: Ruleset, act: PlainAct, at: Date) {
  switch (act.do) {
    case 'status': {
      const status = statusOf(ruleset, act, at)
      const { until } = act
      return {
        kind: 'status' as const,
        status: status.key,
        ...(act.outcome && { outcome: act.outcome }),
        ...(until && status.stage === 'parked' && { until: until.getTime() }),
      }
    }
    case 'edit':
      return { kind: 'edited' as const, property: act.property, value: valueOf(ruleset, act.property, act.value) }
    case 'call':
      return { kind: 'call' as const, result: act.result, ...(act.text && { text: act.text }) }
    case 'tags':
      return { kind: 'tags' as const, on: act.on, off: act.off }
    case 'accept':
      return { kind: 'accept' as const, accepts: act.accepts }
    case 'sent_back': {
      // The best of the labels that do not count as qualified.
      const below = ruleset.labels.filter(l => !l.qualified).at(-1)?.key ?? null
      return { kind: 'sent_back' as const, why: act.why, words: act.words, label: below, until: at.getTime() + SENT_BACK_DAYS * 86_400_000 }
    }
    case 'owner': {
      const { owner, words, quiet, within } = act
      const to = owner === null ? null : ruleset.members.get(owner)
      const wrong = (message: string) => problem(422, message, [{ field: 'owner', message }])
      if (to === undefined) throw wrong('Choose somebody who works here.')
      if (to && !may(to.role, 'work leads')) throw wrong(`${to.name} does not work with leads. Choose somebody who does, or nobody.`)
      return { kind: 'owner' as const, owner, ...(words && { words }), ...(quiet && { quiet }), ...(within && { within }) }
    }
    case 'next_step':
      return {
        kind: 'next_step' as const,
        step: act.step && { ...act.step, due: act.step.due.getTime() },
        ...(act.done && { done: true }),
        ...(act.outcome && { outcome: act.outcome }),
      }
    case 'label': {
      const { label, how, until, reason } = act
      if (label !== null && !ruleset.labels.some(l => l.key === label))
        throw problem(422, 'There is no such label.', [{ field: 'label', message: 'Choose one of the labels of the house.' }])
      return { kind: 'label_held' as const, label, how, until: until && until.getTime(), reason }
    }
    // Lists that there are not are passed over.
    case 'lists':
      return { kind: 'lists' as const, lists: act.lists.filter(id => ruleset.lists.some(l => l.id === id)) }
  }
}
