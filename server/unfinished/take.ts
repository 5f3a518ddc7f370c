import 'reflect-metadata'
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  IsUrl,
  IsUUID,
  Max,
  MaxLength,
  Min,
} from 'class-validator'
import { whoKey } from '#core/leads/book'
import type { Typed } from '#core/unfinished/typed'
import type { Tx } from '#db/client'
import { leadsOfVisitors } from '#db/trail'
import { dropUnsubmitted, giveTo, isUnsubmitted, keepTyped, type UnfinishedWrite } from '#db/unfinished'
import { openBatch } from '#server/ingest/change'
import type { Ruleset } from '#server/ruleset'

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
 * Somebody whom nobody knows becomes an unsubmitted lead: scored and labelled, without an owner, and nobody is told.
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
  const email = typed.email && (typed.email.sure || !known || (await isUnsubmitted(tx, known))) ? typed.email : null
  const lead = email ? await ofAddress(tx, ruleset, u, typed, email, before, at) : (before ?? known)
  if (!lead) return []
  if (lead !== before) await giveTo(tx, u.id, lead)
  // They had mistyped it: who that would have been is nobody.
  if (before && before !== lead) await dropUnsubmitted(tx, [before])
  return [...new Set([lead, ...(before ? [before] : [])])]
}

/** The lead with an address: the one there is, the one that this very typing made before, or a new one. */
async function ofAddress(
  tx: Tx,
  ruleset: Ruleset,
  u: UnfinishedWrite,
  typed: Typed,
  email: NonNullable<Typed['email']>,
  before: string | null,
  at: number,
): Promise<string> {
  const { book, apply, join } = await openBatch(tx, ruleset, {
    emails: [email.key],
    ...(before && { ids: [before] }),
    visitors: [u.visitor],
    at,
  })
  const there = book.leads.get(whoKey({ rule: 'email', key: email.key }))
  const isOwn =
    there && there.submittedAt === null && (there.id === before || there.id === (await leadsOfVisitors(tx, [u.visitor])).get(u.visitor))
  if (there && !isOwn) return there.id
  const own = there ?? (before ? book.byId.get(before) : undefined)
  const lead = own && own.submittedAt === null ? own.id : null
  const cause = {
    kind: 'typed' as const,
    at,
    by: null,
    lead,
    address: { address: email.address, key: email.key },
    values: typed.values,
    visitor: u.visitor,
  }
  const [step] = await apply([cause], ([made]) => join(u.visitor, made!.lead.id, at))
  return step!.lead.id
}
