import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsIn,
  IsInt,
  IsISO8601,
  IsOptional,
  IsRFC3339,
  IsString,
  IsUUID,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator'
import type { H3Event } from 'h3'
import { isUndoable } from '#core/events/kinds/undone'
import { STEP_KINDS, type StepKind } from '#core/follow-up/state'
import type { Undo } from '#core/follow-up/undo'
import type { LeadCause } from '#core/leads/causes'
import { actsToUndo, bulkById, bulkCame, bulkPending, bulkToUndo, bulkUndone, nextBulk, setBulkState } from '#db/bulk'
import type { Sql, Tx } from '#db/client'
import { applicationContext } from '#server/application-context'
import { causeOf, type PlainAct } from '#server/follow-up/acts'
import { changeLeads } from '#server/ingest/change'
import { retried } from '#server/ingest/micro-batcher'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { readRuleset } from '#server/ruleset'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

const DAY = 'Say the day, as 2026-05-01'
const WHEN = 'Say when, as a date and time'
const KINDS = ['status', 'owner', 'tags', 'next_step'] as const

/** What is done to many at once. */
export class BulkAct {
  @IsIn(KINDS, { message: `Say what is to be done: ${KINDS.join(', ')}` }) do!: (typeof KINDS)[number]
  @ValidateIf((b: BulkAct) => b.do === 'status') @IsString() @MaxLength(60) status?: string
  @IsOptional() @IsString() @MaxLength(300) reason?: string
  @IsOptional() @IsInt() @Min(0) @Max(1_000_000_000_000) value?: number
  @IsOptional() @Matches(/^\d{4}-\d\d-\d\d$/, { message: DAY }) @IsISO8601({ strict: true }, { message: DAY }) on?: string
  @IsOptional() @IsRFC3339({ message: WHEN }) @IsISO8601({ strict: true }, { message: WHEN }) until?: string
  /** null: nobody. */
  @ValidateIf((b: BulkAct) => b.do === 'owner' && b.owner !== null) @IsUUID() owner?: string | null
  @IsOptional() @IsString() @MaxLength(600) words?: string
  @IsOptional() @IsInt() @Min(5) @Max(10_000) within?: number
  @ValidateIf((b: BulkAct) => b.do === 'tags')
  @IsArray()
  @ArrayMaxSize(20)
  @ArrayUnique()
  @IsString({ each: true })
  @Length(1, 60, { each: true })
  add?: string[]
  @ValidateIf((b: BulkAct) => b.do === 'tags')
  @IsArray()
  @ArrayMaxSize(20)
  @ArrayUnique()
  @IsString({ each: true })
  @Length(1, 60, { each: true })
  remove?: string[]
  @ValidateIf((b: BulkAct) => b.do === 'next_step')
  @IsString()
  @Length(1, 300)
  @Matches(/\S/, { message: 'Say what the next step is' })
  text?: string
  @ValidateIf((b: BulkAct) => b.do === 'next_step')
  @IsRFC3339({ message: WHEN })
  @IsISO8601({ strict: true }, { message: WHEN })
  due?: string
  @IsOptional() @IsIn(STEP_KINDS) kind?: StepKind
}

/** The act that a body asks for, as each lead gets it. */
export function actOfBulk(b: BulkAct): PlainAct {
  switch (b.do) {
    case 'status': {
      const outcome = {
        ...(b.reason?.trim() && { reason: b.reason.trim() }),
        ...(b.value !== undefined && { value: b.value }),
        ...(b.on && { on: b.on }),
      }
      return {
        do: 'status',
        status: b.status!,
        ...(Object.keys(outcome).length > 0 && { outcome }),
        ...(b.until && { until: new Date(b.until) }),
      }
    }
    case 'owner':
      return { do: 'owner', owner: b.owner ?? null, words: b.words?.trim() ?? '', ...(b.within && { within: b.within }) }
    case 'tags':
      return { do: 'tags', on: b.add!, off: b.remove! }
    case 'next_step':
      return { do: 'next_step', step: { text: b.text!.trim(), due: new Date(b.due!), kind: b.kind ?? 'other', remind: [0] } }
  }
}

/** So many leads in a transaction: entries come in between. */
const AT_ONCE = 200

/**
 * Goes on with what is done to many leads, piece by piece; whoever is interrupted goes on where it was.
 * @param tell called with the leads of each piece, and the members who are told something
 * @returns whether anything was done
 */
export async function workBulk(
  sql: Sql,
  tell: (leads: string[], members: string[]) => Promise<void>,
  going: () => boolean = () => true,
): Promise<boolean> {
  for (let any = false; ;) {
    if (!going()) return any
    const piece = await retried(() => sql.begin(tx => onePiece(tx)))
    if (!piece) return any
    any = true
    await tell(piece.leads, piece.members)
  }
}

async function onePiece(tx: Tx): Promise<{ leads: string[]; members: string[] } | null> {
  const bulk = await nextBulk(tx)
  if (!bulk) return null
  return bulk.state === 'undoing' ? undoSome(tx, bulk) : doSome(tx, bulk)
}

type Next = NonNullable<Awaited<ReturnType<typeof nextBulk>>>

async function doSome(tx: Tx, { id, byMember, act }: Next): Promise<{ leads: string[]; members: string[] }> {
  const leads = await bulkPending(tx, id, AT_ONCE)
  if (!leads.length) {
    await setBulkState(tx, id, 'done')
    return { leads: [], members: [] }
  }
  const at = Date.now()
  const ruleset = await readRuleset(tx)
  let cause: object
  try {
    cause = causeOf(ruleset, actOfBulk(act as BulkAct), new Date(at))
  } catch (error) {
    // What it asks for is gone meanwhile: a status, a member. Nothing more is done, and it says why.
    await bulkCame(
      tx,
      id,
      leads.map(lead => ({ lead, version: null, skipped: (error as Error).message })),
    )
    return { leads, members: [] }
  }
  const steps = await changeLeads(
    tx,
    ruleset,
    leads.map(lead => ({ at, by: byMember, lead, ...cause }) as LeadCause),
  )
  const came = new Map(steps.map(s => [s.lead.id, s]))
  await bulkCame(
    tx,
    id,
    leads.map(lead => {
      const step = came.get(lead)
      return step?.changed
        ? { lead, version: step.lead.version, skipped: null }
        : { lead, version: null, skipped: step ? 'It was so already' : 'It is not there any more' }
    }),
  )
  return { leads, members: notified(steps) }
}

async function undoSome(tx: Tx, { id, byMember }: Next): Promise<{ leads: string[]; members: string[] }> {
  const rows = await bulkToUndo(tx, id, AT_ONCE)
  if (!rows.length) {
    await setBulkState(tx, id, 'undone')
    return { leads: [], members: [] }
  }
  const acts = await actsToUndo(tx, rows)
  const at = Date.now()
  const causes = acts.flatMap((a): LeadCause[] =>
    isUndoable(a.cause)
      ? [
          {
            at,
            by: byMember,
            lead: a.lead,
            kind: 'undo',
            of: a.version,
            act: a.cause,
            undo: a.undo as Undo,
            ...(a.status && { status: a.status }),
          },
        ]
      : [],
  )
  const steps = await changeLeads(tx, await readRuleset(tx), causes)
  await bulkUndone(
    tx,
    id,
    rows.map(r => r.lead),
  )
  return { leads: rows.map(r => r.lead), members: notified(steps) }
}

const notified = (steps: { notices: { to: string }[] }[]) => [...new Set(steps.flatMap(s => s.notices.map(n => n.to)))]

/** So many leads are changed at once at most. */
export const BULK_MOST = 5000

/** The one that a request names. @throws 404 */
export async function bulkOf(event: H3Event) {
  const member = await memberOf(event, 'work leads')
  const { sql } = applicationContext()
  const bulk = await bulkById(sql, idFrom(event))
  if (!bulk) throw problem(404, 'There is nothing like this. Perhaps it was too long ago.')
  return { bulk, member, sql }
}

/** Stops what is under way, or takes back what was done; only who began it may. */
export async function turnBulk(event: H3Event, to: 'stop' | 'undo') {
  const { bulk, member, sql } = await bulkOf(event)
  if (bulk.byMember !== member.id) throw problem(403, 'Only who began it can do that.')
  const able = to === 'stop' ? bulk.state === 'working' : bulk.state === 'done' || bulk.state === 'stopped'
  if (!able) throw problem(409, to === 'stop' ? 'It has ended already.' : 'It is not over yet, or was taken back.')
  await setBulkState(sql, bulk.id, to === 'stop' ? 'stopped' : 'undoing')
  await say(sql, { jobs: true })
  return await bulkById(sql, bulk.id)
}
