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
export const moveTakeover = (db: Db, card: number, position: string) => db`
  insert into card_takeover (card, position) values (${card}, ${position}) on conflict (card) do update set position = excluded.position`
export const finishTakeover = (db: Db, card: number) => db`
  insert into card_takeover (card, finished_at) values (${card}, now()) on conflict (card) do update set finished_at = now()`
