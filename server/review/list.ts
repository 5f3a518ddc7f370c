import type { BriefView, LikelyPair, ReviewedEntry, ReviewList } from '#core/review'
import { nameOf } from '#core/leads/lead'
import { answerText, choicesOf } from '#core/points/definition'
import { claimsToJudge } from '#db/claims'
import { briefLeads, type BriefLead } from '#db/leads'
import { pairsWaiting } from '#db/likeness'
import { review, waitingForReview, type ReviewRow } from '#db/review'
import type { applicationContext } from '#server/application-context'

/** So many of each kind are shown; how many wait is said of all. */
const MOST = 200

/** Held entries, addresses and pairs that somebody has to judge, and behind them what was refused. */
export async function reviewList(context: ReturnType<typeof applicationContext>): Promise<ReviewList> {
  const { sql } = context
  const [rows, claims, pairs, waiting] = await Promise.all([
    review(sql, MOST),
    claimsToJudge(sql, MOST),
    pairsWaiting(sql, MOST),
    waitingForReview(sql),
  ])
  const leads = new Map((await briefLeads(sql, [...new Set(pairs.flatMap(p => [p.a, p.b]))])).map(l => [l.id, briefView(l)]))
  const entries = await Promise.all(rows.map(row => reviewed(context, row)))
  const judgedClaims = claims.map(({ id, leadId, address, confirmedAt, elsewhere, ...lead }) => {
    const at = confirmedAt.toISOString()
    return {
      kind: 'claim' as const,
      at,
      id,
      lead: leadId,
      name: nameOf(lead),
      company: lead.company,
      own: lead.email,
      address,
      confirmedAt: at,
      elsewhere,
    }
  })
  const likely = pairs.flatMap(({ a, b, foundAt, strength, reasons }): LikelyPair[] => {
    const [one, other] = [leads.get(a), leads.get(b)]
    return one && other ? [{ kind: 'pair', id: `${a} ${b}`, at: foundAt.toISOString(), strength, reasons, leads: [one, other] }] : []
  })
  const held = entries.filter(e => e.state === 'held')
  return { items: [...held, ...judgedClaims, ...likely, ...entries.filter(e => e.state === 'refused')], waiting }
}

export const briefView = (l: BriefLead): BriefView => ({
  id: l.id,
  name: nameOf(l),
  email: l.email,
  company: l.company,
  fit: l.fit,
  interest: l.interest,
  label: l.label,
  owner: l.owner,
})

async function reviewed({ cache }: ReturnType<typeof applicationContext>, row: ReviewRow): Promise<ReviewedEntry> {
  const point = await cache.point(row.pointKey)
  const questions = (point && (await cache.edition(point, row.edition)))?.definition.questions ?? []
  const asked = questions.filter(q => row.answers[q.key] !== undefined)
  const when = row.reason === 'condition' ? point?.live?.definition.guards.when : null
  const email = questions.find(q => q.property === 'email')
  return {
    kind: 'entry',
    id: row.id,
    at: row.at.toISOString(),
    state: row.state,
    reason: row.reason,
    holds: when ? { when, questions: questions.map(q => ({ key: q.key, label: q.label, choices: choicesOf(q) })) } : null,
    point: row.point,
    pointId: row.pointId,
    edition: row.edition,
    page: row.page,
    email: email ? String(row.answers[email.key] ?? '') || null : null,
    answers: asked.map(q => ({ question: q.label, text: answerText(q, row.answers[q.key]!) })),
    judged: row.judgedAt && { by: row.judgedBy, at: row.judgedAt.toISOString(), why: row.judgedWhy },
    letInAt: row.letInAt?.toISOString() ?? null,
  }
}
