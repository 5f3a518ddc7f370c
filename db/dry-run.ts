import type { Condition } from '#core/conditions/condition'
import type { LeadState } from '#core/leads/lead'
import type { DryRunResult } from '#core/scoring/dry-run'
import { wholeInterestSql } from '#core/scoring/interest-key'
import type { Scorecard } from '#core/scoring/scorecard'
import type { Db, Tx } from '#db/client'
import { overLeads } from '#db/conditions'

/** Whom a dry run is about: all leads, those of a segment, or those who came in the last so many days. */
export interface Whom {
  segment?: string
  days?: number
}
export type DryRunState = 'waiting' | 'working' | 'done' | 'stopped' | 'failed'
export interface DryRunRow {
  id: string
  at: Date
  revision: number
  definition: Scorecard
  card: number
  who: Whom
  state: DryRunState
  total: number | null
  done: number
  beatAt: Date | null
  result: DryRunResult | null
  problem: string | null
  madeBy: string | null
}

/** The one that there is, whatever became of it. */
export const dryRun = async (db: Db): Promise<DryRunRow | undefined> =>
  (
    await db<DryRunRow[]>`
    select r.id, r.at, r.revision, r.definition, r.card, r.who, r.state, r.total, r.done, r.beat_at, r.result, r.problem, m.name as made_by
    from dry_run r left join member m on m.id = r.made_by`
  )[0]

/** Who works on one says so at least this often; who does not has stopped. */
export const SILENT_S = 30

type NewRun = Pick<DryRunRow, 'id' | 'at' | 'revision' | 'definition' | 'card' | 'who'>
/** Begins one in the place of the last. @returns false where one is still under way */
export async function beginDryRun(db: Db, run: NewRun, by: string): Promise<boolean> {
  const [row] = await db`
    insert into dry_run as d (id, made_by, at, revision, definition, card, who, state)
    values (${run.id}, ${by}, ${run.at}, ${run.revision}, ${run.definition as never}, ${run.card}, ${run.who as never}, 'waiting')
    on conflict (only_one) do update set id = excluded.id, made_by = excluded.made_by, at = excluded.at, revision = excluded.revision,
      definition = excluded.definition, card = excluded.card, who = excluded.who, state = 'waiting', total = null, done = 0, beat_at = null,
      result = null, problem = null
    where d.state not in ('waiting', 'working') returning 1`
  return row !== undefined
}

/** Takes the one that waits, or whose worker fell silent. */
export const takeDryRun = async (db: Db): Promise<DryRunRow | undefined> =>
  (
    await db<DryRunRow[]>`
    update dry_run set state = 'working', beat_at = now(), done = 0
    where state = 'waiting' or (state = 'working' and beat_at < now() - make_interval(secs => ${SILENT_S})) returning *`
  )[0]

/** Stops one that is under way. @returns whether it was */
export const stopDryRun = async (db: Db, id: string): Promise<boolean> =>
  (await db`update dry_run set state = 'stopped' where id = ${id} and state in ('waiting', 'working') returning 1`).length > 0
export const endDryRun = (db: Db, id: string, result: DryRunResult) => db`
  update dry_run set state = 'done', result = ${result as never}, done = total, beat_at = null where id = ${id} and state = 'working'`
export const failDryRun = (db: Db, id: string, problem: string) => db`
  update dry_run set state = 'failed', problem = ${problem} where id = ${id} and state = 'working'`
/** Nobody's outcomes are kept but those of the one under way. */
export const emptyDryRun = (db: Db) => db`truncate dry_run_lead`

const among = (db: Db, whom: Whom, condition: Condition | null, at: Date) => db`
  true ${condition ? db`and ${overLeads(db, condition, at.getTime())}` : db``}
  ${whom.days ? db`and l.created_at > ${at}::timestamptz - make_interval(days => ${whom.days})` : db``}`

/** How many somebody is about. @param condition of the segment, written out */
export const countAmong = async (db: Db, whom: Whom, condition: Condition | null, at: Date): Promise<number> =>
  (await db<{ n: number }[]>`select count(*)::int as n from lead l where ${among(db, whom, condition, at)}`)[0]!.n

export type LeadToWeigh = LeadState & { stage: string }
/** Leads with all that judging them takes but what stands beside them, behind one in the order of their ids. Not locked: they are only looked at. */
export async function leadsToWeigh(
  db: Db,
  whom: Whom,
  condition: Condition | null,
  at: Date,
  after: string | null,
  most: number,
): Promise<LeadToWeigh[]> {
  const ms = (column: string) => db.unsafe(`(extract(epoch from l.${column}) * 1000)::float8`)
  return await db<LeadToWeigh[]>`
    select l.id, l.email, l.email_key, l.first_name, l.last_name, l.company, l.properties, l.tags, l.label, l.label_floor, l.label_held, l.reasons, l.owner_id,
      l.status, l.next_step, l.follow_up, l.version, s.stage, ${ms('created_at')} as created_at, ${ms('status_at')} as status_at, ${ms('waiting_since')} as waiting_since,
      ${ms('next_step_at')} as next_step_at, ${ms('confirmed_at')} as confirmed_at, ${ms('unsubscribed_at')} as unsubscribed_at,
      ${ms('submitted_at')} as submitted_at, ${ms('guarded_at')} as guarded_at
    from lead l join status s on s.key = l.status
    where ${among(db, whom, condition, at)} ${after === null ? db`` : db`and l.id > ${after}::uuid`} order by l.id limit ${most}`
}

/** What came of a lead; labels by their places in the order of labels, 0 for none. */
export interface Outcome {
  lead: string
  was: number
  would: number
  fitWas: number
  interestWas: number
  fit: number
  interest: number
}
/** Keeps what came of some leads, and how far the run has come. @returns false where it was stopped meanwhile */
export async function keepOutcomes(tx: Tx, id: string, outcomes: Outcome[]): Promise<boolean> {
  const of = <K extends keyof Outcome>(key: K) => outcomes.map(o => o[key])
  const [row] =
    await tx`update dry_run set done = done + ${outcomes.length}, beat_at = now() where id = ${id} and state = 'working' returning 1`
  if (!row) return false
  await tx`insert into dry_run_lead (lead_id, was, would, fit_was, interest_was, fit, interest)
    select * from unnest(${of('lead')}::uuid[], ${of('was')}::smallint[], ${of('would')}::smallint[], ${of('fitWas')}::int[], ${of('interestWas')}::int[],
      ${of('fit')}::int[], ${of('interest')}::int[]) on conflict (lead_id) do nothing`
  return true
}
export const setTotal = (db: Db, id: string, total: number) => db`update dry_run set total = ${total} where id = ${id}`

export interface MovedLead extends Outcome {
  name: string
  company: string | null
  owner: string | null
  status: string
  label: string | null
  fitNow: number
  interestNow: number
}
const NAME = `coalesce(nullif(trim(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '')), ''), l.email, l.properties->>'phone', 'Somebody')`
const moved = (db: Db) => db`
  select d.lead_id as lead, d.was, d.would, d.fit_was, d.interest_was, d.fit, d.interest, ${db.unsafe(NAME)} as name, l.company, o.name as owner, l.status, l.label,
    l.fit as fit_now, ${db.unsafe(wholeInterestSql('now()'))} as interest_now
  from dry_run_lead d join lead l on l.id = d.lead_id left join member o on o.id = l.owner_id`
/** Those who go from one label to another, who move farthest first; a page of them. */
export const movedLeads = (db: Db, was: number, would: number, offset: number, most: number) => db<MovedLead[]>`
  ${moved(db)} where d.was = ${was} and d.would = ${would}
  order by abs(d.fit + d.interest - d.fit_was - d.interest_was) desc, d.lead_id offset ${offset} limit ${most}`
/** Some by their ids. */
export const movedByIds = (db: Db, ids: string[]) => db<MovedLead[]>`${moved(db)} where d.lead_id = any(${ids}::uuid[])`
