import type { Scorecard } from '#core/scoring/scorecard'
import type { Db } from '#db/client'
import { editionsIn } from '#db/editions'

const cards = editionsIn<Scorecard>('scorecard_draft', 'scorecard_edition')
export const {
  live: liveScorecard,
  add: addScorecard,
  all: scorecardEditions,
  numbered: scorecardNumbered,
  draft: scorecardDraft,
  save: saveScorecardDraft,
  publish: publishScorecard,
} = cards

/** How far a scorecard came in taking effect on the leads there are; undefined: it has not begun. */
export const takeoverOf = async (db: Db, card: number): Promise<{ position: string | null; finishedAt: Date | null } | undefined> =>
  (
    await db<{ position: string | null; finishedAt: Date | null }[]>`select position, finished_at from card_takeover where card = ${card}`
  )[0]
/** The latest scorecard before one that took effect on all leads; undefined: none has. */
export const cardTakenOver = async (db: Db, before: number): Promise<Scorecard | undefined> =>
  (
    await db<{ definition: Scorecard }[]>`select s.definition from scorecard_edition s join card_takeover t on t.card = s.number
    where t.finished_at is not null and s.number < ${before} order by s.number desc limit 1`
  )[0]?.definition
export const moveTakeover = (db: Db, card: number, position: string) => db`
  insert into card_takeover (card, position) values (${card}, ${position}) on conflict (card) do update set position = excluded.position`
export const finishTakeover = (db: Db, card: number) => db`
  insert into card_takeover (card, finished_at) values (${card}, now()) on conflict (card) do update set finished_at = now()`

/** What each rule does, by its key: how many leads carry a line of it, and how many points it gave since a moment. Read through all leads. */
export const ruleUses = (db: Db, since: Date) => db<{ rule: string; leads: number; points: number }[]>`
  select r.line->>'rule' as rule, count(distinct l.id)::int as leads,
    coalesce(sum((r.line->>'points')::float8) filter (where (r.line->>'at')::float8 >= ${since.getTime()}), 0) as points
  from lead l cross join lateral jsonb_array_elements(l.reasons) as r(line) group by 1`
