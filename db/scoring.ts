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
