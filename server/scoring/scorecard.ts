import { cardChecks, type CardCheck } from '#core/scoring/checks'
import { readScorecard, type Scorecard } from '#core/scoring/scorecard'
import { asksForScore } from '#core/leads/needs'
import { expanded } from '#core/segments/segment'
import type { Flaw } from '#core/flaws'
import type { ScorecardView } from '#core/team'
import type { Sql } from '#db/client'
import { scorecardDraft, scorecardEditions, takeoverOf } from '#db/scoring'
import { lists } from '#db/lists'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

const EMPTY: Scorecard = { version: 1, halfLifeDays: 21, fit: [], interest: [], labels: [] }
export const changedMeanwhile = () =>
  problem(409, 'Somebody else has changed the scorecard meanwhile. Load it again; what you changed is still here.')

/** The scorecard as those see it who work on it: the working copy, what is wrong with it, and what was live. */
export async function scorecardView(sql: Sql, ruleset: Ruleset): Promise<ScorecardView> {
  const [draft, editions] = await Promise.all([scorecardDraft(sql), scorecardEditions(sql)])
  const live = editions[0]
  const workingCopy = readScorecard(draft?.definition ?? live?.definition ?? EMPTY).scorecard ?? EMPTY
  const takeover = live ? await takeoverOf(sql, live.number) : undefined
  return {
    name: '',
    workingCopy,
    revision: draft?.revision ?? 0,
    live: live
      ? {
          number: live.number,
          definition: readScorecard(live.definition).scorecard ?? EMPTY,
          madeAt: live.madeAt.toISOString(),
          madeBy: live.madeBy,
        }
      : null,
    editions: editions.map(e => ({ number: e.number, madeAt: e.madeAt.toISOString(), madeBy: e.madeBy })),
    changed: draft ? { at: draft.changedAt.toISOString(), by: draft.changedBy } : null,
    isTakingEffect: live !== undefined && !takeover?.finishedAt,
    checks: await checksOf(sql, workingCopy, ruleset),
  }
}

export async function checksOf(sql: Sql, card: Scorecard, ruleset: Ruleset): Promise<CardCheck[]> {
  return cardChecks(card, {
    properties: new Set(ruleset.properties.filter(p => !p.retired).map(p => p.key)),
    segments: new Set(ruleset.segmentNames.map(s => s.id)),
    lists: new Set((await lists(sql)).map(l => l.id)),
    labels: ruleset.labels,
  })
}

/** A scorecard out of an untrusted value. @throws 422 with what is wrong, also where it would ask for what it makes itself */
export function readCard(value: unknown, ruleset: Ruleset): Scorecard {
  const { scorecard, flaws } = readScorecard(value)
  const found: Flaw[] = scorecard
    ? scorecard.fit.flatMap((rule, i) =>
        asksForScore(expanded(rule.when, ruleset.segments))
          ? [
              {
                field: `fit.${i}.when`,
                message: `“${rule.name}” asks for fit, interest or label, which the scorecard makes. Take that test out.`,
              },
            ]
          : [],
      )
    : flaws
  if (!scorecard || found.length)
    throw problem(
      422,
      'Something in the scorecard cannot be kept; see the list.',
      found.map(f => ({ ...f, field: `definition.${f.field}` })),
    )
  return scorecard
}
