import 'reflect-metadata'
import { ArrayMaxSize, IsArray, IsBoolean, IsInt, IsNumber, IsObject, IsOptional, IsString, IsUrl, IsUUID, Max, MaxLength, Min } from 'class-validator'
import { setProperty, propertyOf, type LeadState } from '#core/leads/lead'
import { withActivities } from '#core/scoring/score'
import type { Typed } from '#core/unfinished/typed'
import { insertTimeline, leadForUpdate, leadsForUpdate, writeLeads } from '#db/capture'
import type { Tx } from '#db/client'
import { leadsOfVisitors, nameVisitors, unclaimedActivities } from '#db/trail'
import { dropUngiven, giveTo, isUngiven, keepTyped, type UnfinishedWrite } from '#db/unfinished'
import { newId } from '#server/ids'
import { judgeOf } from '#server/segments/about'
import type { Ruleset } from '#server/ruleset'
import { trailActivity } from '#server/trail/activities'
import { relabel } from '#server/trail/relabel'

/** What a visitor who agreed has typed so far. Sent as plain text, so that browsers need not ask first. */
export class TypedBody {
  @IsUUID() id!: string
  @IsUUID() visitor!: string
  /** The key of a point of ours; else the name of a form of the site's. */
  @IsOptional() @IsString() @MaxLength(80) point?: string | null
  @IsOptional() @IsString() @MaxLength(80) form?: string | null
  @IsOptional() @IsInt() @Min(1) @Max(1_000_000) edition?: number | null
  @IsObject() answers!: Record<string, unknown>
  /** The fields that are not being typed into just now. */
  @IsArray() @ArrayMaxSize(100) @IsString({ each: true }) settled!: string[]
  @IsUrl({ require_tld: false, require_protocol: true, protocols: ['http', 'https'] }) @MaxLength(2000) page!: string
  /** Counts up with each time it is sent. */
  @IsInt() @Min(1) @Max(1_000_000) turn!: number
  /** Milliseconds since the first key was pressed. */
  @IsNumber() @Min(0) @Max(7 * 86_400_000) since!: number
  /** The site's own form was sent to the site. */
  @IsOptional() @IsBoolean() sent?: boolean
}

/**
 * Keeps what was typed, and says whose it is: by an address that was typed whole, else by who is known in this browser.
 * Somebody whom nobody knows becomes a lead that is not yet given: scored and labelled, without an owner, and nobody is told.
 * Of somebody who was there before, whom anybody may type, it is only noted: neither does the browser become theirs, nor
 * does anything about them change.
 * @returns the leads whose screens change
 */
export async function takeTyped(tx: Tx, ruleset: Ruleset, u: UnfinishedWrite, typed: Typed): Promise<string[]> {
  const kept = await keepTyped(tx, u)
  if (!kept) return []
  const at = u.at.getTime()
  const known = (await leadsOfVisitors(tx, [u.visitor])).get(u.visitor) ?? null
  const before = kept.leadId
  // Somebody whom we know may well write down another's address; only where they are asked for theirs is it them.
  const email = typed.email && (typed.email.sure || !known || await isUngiven(tx, known)) ? typed.email : null
  const lead = email ? await ofAddress(tx, ruleset, u, typed, email, before, at) : before ?? known
  if (!lead) return []
  if (lead !== before) await giveTo(tx, u.id, lead)
  // They had mistyped it: who that would have been is nobody.
  if (before && before !== lead) await dropUngiven(tx, [before])
  return [...new Set([lead, ...before ? [before] : []])]
}

/** The lead with an address: the one there is, the one that this very typing made before, or a new one. */
async function ofAddress(tx: Tx, ruleset: Ruleset, u: UnfinishedWrite, typed: Typed, email: NonNullable<Typed['email']>, before: string | null, at: number): Promise<string> {
  const [there] = await leadsForUpdate(tx, [email.key])
  const isOwn = there && there.givenAt === null && (there.id === before || there.id === (await leadsOfVisitors(tx, [u.visitor])).get(u.visitor))
  if (there && !isOwn) return there.id
  const own = there ?? (before ? await leadForUpdate(tx, before) : undefined)
  const mine = own && own.givenAt === null ? own : undefined
  const lead: LeadState = mine ?? {
    id: newId(at), email: email.address, emailKey: email.key, firstName: null, lastName: null, company: null, properties: {}, tags: [], label: null, labelFloor: null, reasons: [],
    ownerId: null, status: ruleset.firstStatus, statusAt: at, waitingSince: null, nextStep: null, nextStepAt: null, confirmedAt: null, leftAt: null, createdAt: at, givenAt: null, guardedAt: null, claims: [],
  }
  lead.email = email.address
  lead.emailKey = email.key
  for (const [property, value] of Object.entries(typed.values)) if (propertyOf(lead, property) !== value) setProperty(lead, property, value)
  const pages = mine ? [] : (await unclaimedActivities(tx, [u.visitor])).map(trailActivity)
  const judge = (await judgeOf(tx, ruleset, mine ? [lead] : [], at))(lead)
  lead.reasons = withActivities(ruleset.scorecard, lead.reasons, judge, pages, at).lines
  await writeLeads(tx, [{ lead, fresh: !mine, at, fit: 0, interest: 0 }])
  if (!mine) await insertTimeline(tx, [{ id: newId(at), lead: lead.id, at, kind: 'typed', actor: null, payload: { email: email.address } }])
  await relabel(tx, ruleset, [lead], at)
  await Promise.all(nameVisitors(tx, [{ id: newId(at), visitor: u.visitor, lead: lead.id, since: u.at.toISOString() }]))
  return lead.id
}
