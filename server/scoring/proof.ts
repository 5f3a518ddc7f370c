import { decayed } from '#core/scoring/lines'
import { proofOf, type Case } from '#core/scoring/proof'
import type { ProofView } from '#core/team'
import type { Sql } from '#db/client'
import { cases, type CaseRow } from '#db/proof'
import type { Ruleset } from '#server/ruleset'

const DAY = 86_400_000

export interface AskedProof {
  /** The key of a status, or `won`: any that means so. */
  goal: string
  /** They are judged so many days after they came. */
  days: number
  /** About those who came in so many days. */
  span: number
}

/** Whether the scorecard told the truth. @throws nothing; a status that there is not was reached by nobody */
export async function readProof(sql: Sql, ruleset: Ruleset, { goal, days, span }: AskedProof, now: number): Promise<ProofView> {
  const statuses = goal === 'won' ? ruleset.statuses.filter(s => s.stage === 'won').map(s => s.key) : [goal]
  const all: Case[] = []
  const cards = new Map<number, number>()
  for await (const rows of cases(sql, statuses, days, new Date(now - span * DAY))) {
    for (const row of rows as CaseRow[]) {
      const judgedAt = row.createdAt.getTime() + days * DAY
      const interest = row.scoredAt
        ? decayed(row.interest ?? 0, row.scoredAt.getTime(), judgedAt, row.half ?? ruleset.scorecard.halfLifeDays)
        : 0
      if (row.card !== null) cards.set(row.card, (cards.get(row.card) ?? 0) + 1)
      all.push({
        createdAt: row.createdAt.getTime(),
        judgedAt,
        score: (row.fit ?? 0) + interest,
        label: row.label,
        rules: row.rules,
        reachedAt: row.reachedAt?.getTime() ?? null,
      })
    }
  }
  const { fit, interest } = ruleset.scorecard
  const rules = (['fit', 'interest'] as const).flatMap(axis =>
    (axis === 'fit' ? fit : interest).filter(r => !r.off).map(r => ({ rule: r.key, name: r.name, axis, points: r.points })),
  )
  return {
    ...proofOf(all, rules, ruleset.labelOrder, now),
    cards: [...cards].sort(([a], [b]) => b - a).map(([number, leads]) => ({ number, leads })),
  }
}
