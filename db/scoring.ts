import type { Scorecard } from '#core/scoring/scorecard'
import type { Db } from '#db/client'

export interface ScorecardEdition { number: number; definition: Scorecard; madeAt: Date; madeBy: string | null }

/** The scorecard that scores now. */
export async function liveScorecard(db: Db): Promise<ScorecardEdition | undefined> {
  return (await db<ScorecardEdition[]>`
    select s.number, s.definition, s.made_at, m.name as made_by from scorecard_edition s left join member m on m.id = s.made_by order by number desc limit 1`)[0]
}

export async function addScorecard(db: Db, definition: Scorecard, at: Date): Promise<void> {
  await db`insert into scorecard_edition (definition, made_at) values (${definition as never}, ${at})`
}

/** How far a scorecard came in taking effect on the leads there are; undefined: it has not begun. */
export const takeoverOf = async (db: Db, card: number): Promise<{ position: string | null; finishedAt: Date | null } | undefined> =>
  (await db<{ position: string | null; finishedAt: Date | null }[]>`select position, finished_at from card_takeover where card = ${card}`)[0]
/** The latest scorecard before one that took effect on all leads; undefined: none has. */
export const cardTakenOver = async (db: Db, before: number): Promise<Scorecard | undefined> =>
  (await db<{ definition: Scorecard }[]>`select s.definition from scorecard_edition s join card_takeover t on t.card = s.number
    where t.finished_at is not null and s.number < ${before} order by s.number desc limit 1`)[0]?.definition
export const moveTakeover = (db: Db, card: number, position: string) => db`
  insert into card_takeover (card, position) values (${card}, ${position}) on conflict (card) do update set position = excluded.position`
export const finishTakeover = (db: Db, card: number) => db`
  insert into card_takeover (card, finished_at) values (${card}, now()) on conflict (card) do update set finished_at = now()`

/** The scorecard that is being worked on; there is none before somebody changes something. */
export interface ScorecardDraft { definition: Scorecard; revision: number; changedAt: Date; changedBy: string | null }
export const scorecardDraft = async (db: Db): Promise<ScorecardDraft | undefined> =>
  (await db<ScorecardDraft[]>`select d.definition, d.revision, d.changed_at, m.name as changed_by from scorecard_draft d left join member m on m.id = d.changed_by`)[0]

/** Keeps the working copy. @param revision of what it was changed from; 0 where there was none. @returns the new revision; null when somebody was faster */
export async function saveScorecardDraft(db: Db, definition: Scorecard, revision: number, by: string): Promise<number | null> {
  const [row] = await db<{ revision: number }[]>`
    insert into scorecard_draft as d (definition, changed_by) select ${definition as never}, ${by} where ${revision} = 0
    on conflict (only_one) do nothing returning d.revision`
  if (row || revision === 0) return row?.revision ?? null
  const [changed] = await db<{ revision: number }[]>`
    update scorecard_draft set definition = ${definition as never}, revision = revision + 1, changed_at = now(), changed_by = ${by}
    where revision = ${revision} returning revision`
  return changed?.revision ?? null
}

/** Makes an edition of the working copy, which scores from now on. @returns its number; null when somebody changed it meanwhile, or it is live as it stands */
export async function publishScorecard(tx: Db, revision: number, by: string, at: Date): Promise<number | null> {
  const [draft] = await tx<{ definition: Scorecard }[]>`select definition from scorecard_draft where revision = ${revision} for update`
  if (!draft) return null
  const [row] = await tx<{ number: number }[]>`
    insert into scorecard_edition (definition, made_at, made_by) select ${draft.definition as never}, ${at}, ${by}
    where not exists (select from scorecard_edition where number = (select max(number) from scorecard_edition) and definition = ${draft.definition as never}::jsonb)
    returning number`
  return row?.number ?? null
}

/** All that ever scored, the latest first. */
export const scorecardEditions = (db: Db) => db<ScorecardEdition[]>`
  select s.number, s.definition, s.made_at, m.name as made_by from scorecard_edition s left join member m on m.id = s.made_by order by number desc`

/** What each rule does, by its key: how many leads carry a line of it, and how many points it gave since a moment. Read through all leads. */
export const ruleUses = (db: Db, since: Date) => db<{ rule: string; leads: number; points: number }[]>`
  select r.line->>'rule' as rule, count(distinct l.id)::int as leads,
    coalesce(sum((r.line->>'points')::float8) filter (where (r.line->>'at')::float8 >= ${since.getTime()}), 0) as points
  from lead l cross join lateral jsonb_array_elements(l.reasons) as r(line) group by 1`
