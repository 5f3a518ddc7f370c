import type { Gave, PlanRunSums } from '#core/routing/dry-run'
import type { LeadState } from '#core/leads/lead'
import type { Db, Tx } from '#db/client'

/** A run of past leads through a plan. */
export interface PlanRunRow {
  id: string
  at: Date
  revision: number
  definition: unknown
  edition: number
  days: number
  speed: number
  state: 'waiting' | 'working' | 'done' | 'stopped' | 'failed'
  total: number | null
  done: number
  beatAt: Date | null
  result: { live: PlanRunSums | null; draft: PlanRunSums } | null
  problem: string | null
  madeBy: string | null
}
export const planRun = async (db: Db): Promise<PlanRunRow | undefined> =>
  (
    await db<
      PlanRunRow[]
    >`select r.id, r.at, r.revision, r.definition, r.edition, r.days, r.speed, r.state, r.total, r.done, r.beat_at, r.result, r.problem, m.name as made_by
    from plan_run r left join member m on m.id = r.made_by`
  )[0]

/** Who works on one says so at least this often. */
export const SILENT_S = 30

/** Begins one in the place of the last. @returns false where one is still under way */
export async function beginPlanRun(
  db: Db,
  run: Pick<PlanRunRow, 'id' | 'at' | 'revision' | 'definition' | 'edition' | 'days' | 'speed'>,
  by: string,
): Promise<boolean> {
  const [row] = await db`
    insert into plan_run as r (id, made_by, at, revision, definition, edition, days, speed, state)
    values (${run.id}, ${by}, ${run.at}, ${run.revision}, ${run.definition as never}, ${run.edition}, ${run.days}, ${run.speed}, 'waiting')
    on conflict (only_one) do update set id = excluded.id, made_by = excluded.made_by, at = excluded.at, revision = excluded.revision, definition = excluded.definition,
      edition = excluded.edition, days = excluded.days, speed = excluded.speed, state = 'waiting', total = null, done = 0, beat_at = null, result = null, problem = null
    where r.state not in ('waiting', 'working') or r.beat_at < now() - make_interval(secs => ${SILENT_S}) returning 1`
  return row !== undefined
}
/** Takes the one that waits, or whose worker fell silent. */
export const takePlanRun = async (db: Db): Promise<PlanRunRow | undefined> =>
  (
    await db<PlanRunRow[]>`update plan_run set state = 'working', beat_at = now(), done = 0
    where state = 'waiting' or (state = 'working' and beat_at < now() - make_interval(secs => ${SILENT_S})) returning *`
  )[0]
/** @returns false where it was stopped, or another has begun */
export const beatPlanRun = async (db: Db, id: string, done: number, total: number): Promise<boolean> =>
  (await db`update plan_run set done = ${done}, total = ${total}, beat_at = now() where id = ${id} and state = 'working' returning 1`)
    .length > 0
export const stopPlanRun = async (db: Db): Promise<boolean> =>
  (await db`update plan_run set state = 'stopped' where state in ('waiting', 'working') returning 1`).length > 0
export const failPlanRun = (db: Db, id: string, problem: string) =>
  db`update plan_run set state = 'failed', problem = ${problem} where id = ${id} and state = 'working'`

/** Makes room for what comes of a run. Until the transaction ends nobody stops it. @returns false where it was stopped, or another has begun */
export async function clearPlanRun(tx: Tx, id: string): Promise<boolean> {
  const [row] = await tx`select 1 from plan_run where id = ${id} and state = 'working' for update`
  if (row) await tx`truncate plan_run_lead`
  return row !== undefined
}
/** Keeps who got whom. @param which the live plan (0) or the draft (1) */
export async function keepGave(tx: Tx, which: 0 | 1, all: readonly Gave[]): Promise<void> {
  if (!all.length) return
  await tx`insert into plan_run_lead (which, lead_id, member_id, lane, came, at, is_over, kept)
  select ${which}::smallint, r.lead, r.member, r.lane, to_timestamp(r.came / 1000), to_timestamp(r.at / 1000), r.over = 1, r.kept
  from unnest(${all.map(g => g.lead)}::uuid[], ${all.map(g => g.member)}::uuid[], ${all.map(g => g.lane)}::text[], ${all.map(g => g.came)}::float8[],
    ${all.map(g => g.at)}::float8[], ${all.map(g => Number(g.over))}::int[], ${all.map(g => g.kept)}::float8[]) as r(lead, member, lane, came, at, over, kept)`
}
export const endPlanRun = (tx: Tx, id: string, result: NonNullable<PlanRunRow['result']>) =>
  tx`update plan_run set state = 'done', result = ${result as never}, done = total, beat_at = null where id = ${id}`

export interface RanLead {
  lead: string
  name: string
  company: string | null
  member: string | null
  lane: string | null
  came: Date
  at: Date
  kept: number | null
}
export interface RanWhich {
  which: 0 | 1
  member?: string | null
  lane?: string
  what?: 'late' | 'over'
}
/** The leads behind a figure of a run, as they came. */
export const ranLeads = (db: Db, f: RanWhich, offset: number, most: number) => db<(RanLead & { total: number })[]>`
  select r.lead_id as lead, coalesce(nullif(trim(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '')), ''), l.email, l.properties->>'phone', 'Somebody') as name, l.company,
    r.member_id as member, r.lane, r.came, r.at, r.kept, count(*) over ()::int as total
  from plan_run_lead r join lead l on l.id = r.lead_id
  where r.which = ${f.which} ${f.member === undefined ? db`` : f.member === null ? db`and r.member_id is null` : db`and r.member_id = ${f.member}`}
    ${f.lane === undefined ? db`` : db`and r.lane = ${f.lane}`} ${f.what === 'late' ? db`and r.member_id is not null and r.at > r.came + interval '1 minute'` : f.what === 'over' ? db`and r.is_over` : db``}
  order by r.came, r.lead_id offset ${offset} limit ${most}`

export type LeadToRoute = LeadState & { stage: string; language: string | null; firstLabel: string | null; firm: string | null }
/** A stretch of time, half-open. */
export interface Stretch {
  since: Date
  until: Date
}
const cameIn = (db: Db, { since, until }: Stretch) => db`l.submitted_at >= ${since} and l.submitted_at < ${until}`

/** Leads that came in a stretch of time, in pieces of so many in the order of their ids: the last of each, and how many leads there are. */
export async function piecesToRoute(db: Db, stretch: Stretch, each: number): Promise<{ ends: string[]; total: number }> {
  const rows = await db<{ id: string; total: number }[]>`
    select id, total from (select l.id, row_number() over (order by l.id) as nth, count(*) over ()::int as total from lead l where ${cameIn(db, stretch)}) x
    where nth % ${each} = 0 or nth = total order by id`
  return { ends: rows.map(r => r.id), total: rows[0]?.total ?? 0 }
}
/**
 * A piece of them, with what routing asks for. Not locked: they are only looked at.
 * @param after, last the last of the piece before, and its own
 * @param withReasons what makes their scores, which is most of a lead, is read, too
 */
export function leadsToRoute(db: Db, stretch: Stretch, after: string | null, last: string, withReasons: boolean) {
  // Not by extract, which reckons in numeric: of so many moments that is felt.
  const ms = (column: string) => db.unsafe(`date_part('epoch', l.${column}) * 1000`)
  return db<LeadToRoute[]>`
    select l.id, l.email, l.email_key, l.first_name, l.last_name, l.company, l.properties, l.tags, l.label, l.label_floor, l.label_held, ${withReasons ? db`l.reasons` : db`'[]'::jsonb as reasons`}, l.owner_id, l.lane,
      l.status, l.next_step, l.follow_up, l.version, s.stage, ${ms('created_at')} as created_at, ${ms('status_at')} as status_at, ${ms('waiting_since')} as waiting_since,
      ${ms('next_step_at')} as next_step_at, ${ms('confirmed_at')} as confirmed_at, ${ms('unsubscribed_at')} as unsubscribed_at, ${ms('submitted_at')} as submitted_at, ${ms('guarded_at')} as guarded_at,
      e.language, v.to as first_label, coalesce('d ' || k.domain, 'f ' || k.firm) as firm
    from lead l join status s on s.key = l.status left join lead_likeness k on k.lead_id = l.id
    left join lateral (select coalesce(n.language, d.definition->>'language') as language from entry n join edition d on d.id = n.edition_id where n.lead_id = l.id order by n.at limit 1) e on true
    left join lateral (select v.changes->'label'->>'to' as to from lead_event v where v.lead_id = l.id and v.changes ? 'label' order by v.version limit 1) v on true
    where ${cameIn(db, stretch)} ${after === null ? db`` : db`and l.id > ${after}::uuid`} and l.id <= ${last}::uuid`
}

/** Open leads that each had at a moment, of those that came before it. */
export const openAt = (db: Db, at: Date) => db<{ member: string; open: number }[]>`
  select l.owner_id as member, count(*)::int as open from lead l join status s on s.key = l.status
  where l.owner_id is not null and l.submitted_at <= ${at} and (s.stage in ('first', 'open') or l.status_at > ${at}) group by 1`
/** Who owned others of the firms that came since, by then, the latest first. */
export const firmsAt = (db: Db, at: Date) => db<{ firm: string; owners: string[] }[]>`
  select firm, array_agg(owner_id order by at desc) as owners from (
    select coalesce('d ' || k.domain, 'f ' || k.firm) as firm, l.owner_id, max(l.updated_at) as at from lead_likeness k join lead l on l.id = k.lead_id
    where l.submitted_at <= ${at} and l.owner_id is not null and coalesce('d ' || k.domain, 'f ' || k.firm) in (
      select distinct coalesce('d ' || n.domain, 'f ' || n.firm) from lead_likeness n join lead m on m.id = n.lead_id where m.submitted_at > ${at})
    group by 1, 2) x group by 1`
