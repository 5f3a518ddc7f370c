import type { Condition } from '#core/conditions/condition'
import type { Row } from '#core/learning/table'
import type { PointDefinition } from '#core/points/definition'
import { decayed } from '#core/scoring/lines'
import { oldEnough } from '#core/scoring/proof'
import { expanded } from '#core/segments/segment'
import { gains, rocArea } from '#core/stats/roc'
import type { ComparedCard } from '#core/team'
import type { LearnInput } from '#db/learn-jobs'
import { casesToLearn, editionDefinitions, entriesUntil, latestFits, readUntil, type CaseToLearn } from '#db/learn-rows'
import type { Sql } from '#db/client'
import type { Ruleset } from '#server/ruleset'

const DAY = 86_400_000
/** So many are learned from, the latest who are old enough. */
const MOST = 20_000
const MOST_LINES = 3000
const AT_ONCE = 500
/** What nobody scores by unless they ask for it, and what tells who somebody is. */
const NEVER = new Set(['email', 'first_name', 'last_name', 'phone', 'company', 'message'])

type OfLeads = Exclude<LearnInput, { rows: unknown }>

/**
 * Leads as rows: what they had answered and done some days after they came, and what became of them since. What was learned about
 * them later, or changed by us, is not in it: nobody could have scored by it then.
 * @throws RangeError in words where nobody is left
 */
export async function rowsOfLeads(
  sql: Sql,
  ruleset: Ruleset,
  asked: OfLeads,
  now: number,
): Promise<{ rows: Row[]; outcome: number[]; scores: number[] }> {
  const statuses = asked.goal === 'won' ? ruleset.statuses.filter(s => s.stage === 'won').map(s => s.key) : [asked.goal]
  const condition = asked.segment === null ? null : (ruleset.segments.get(asked.segment) ?? gone())
  const all = await casesToLearn(sql, {
    statuses,
    days: asked.days,
    since: new Date(now - asked.span * DAY),
    condition: condition && expanded(condition, ruleset.segments),
    now,
  })
  const timed = all.map(row => ({
    row,
    createdAt: row.createdAt.getTime(),
    judgedAt: judgedAt(row, asked.days),
    reachedAt: row.reachedAt?.getTime() ?? null,
  }))
  const cases = oldEnough(timed, now)
    .cases.slice(0, MOST)
    .map(c => c.row)
  if (!cases.length)
    throw new RangeError(
      'Nobody is old enough to tell what becomes of them. Try again when those who came lately have had the time they take.',
    )
  const rows: Row[] = []
  for (let at = 0; at < cases.length; at += AT_ONCE) {
    const until = cases.slice(at, at + AT_ONCE).map(c => ({ lead: c.id, at: new Date(judgedAt(c, asked.days)) }))
    rows.push(...(await rowsOfSome(sql, ruleset, until, asked.sensitive)))
  }
  fillDeeds(rows)
  return {
    rows,
    outcome: cases.map(c => Number(c.reachedAt !== null)),
    scores: cases.map(
      c =>
        (c.fit ?? 0) +
        (c.scoredAt
          ? decayed(c.interest ?? 0, c.scoredAt.getTime(), judgedAt(c, asked.days), c.half ?? ruleset.scorecard.halfLifeDays)
          : 0),
    ),
  }
}
const gone = (): Condition => {
  throw new RangeError('There is no such segment any more.')
}
const judgedAt = (c: CaseToLearn, days: number) => c.createdAt.getTime() + days * DAY

type Until = { lead: string; at: Date }[]
async function rowsOfSome(sql: Sql, ruleset: Ruleset, until: Until, sensitive: boolean): Promise<Row[]> {
  const [entries, read] = await Promise.all([entriesUntil(sql, until), readUntil(sql, until)])
  const definitions = await editionDefinitions(sql, [...new Set(entries.map(e => e.editionId))])
  const isAsked = (p: Ruleset['properties'][number]) =>
    !p.retired && !NEVER.has(p.key) && p.kind !== 'file' && (sensitive || p.sensitivity !== 'sensitive')
  const mayAsk = new Set(ruleset.properties.filter(isAsked).map(p => p.key))
  const rows = new Map<string, Row>(until.map(u => [u.lead, {}]))
  const count = (row: Row, name: string) => {
    row[name] = Number(row[name] ?? 0) + 1
  }
  for (const { leadId, editionId, point, answers } of entries) {
    const row = rows.get(leadId)!
    count(row, 'did.entry')
    count(row, `did.entry.${point}`)
    for (const [property, value] of valuesOf(definitions.get(editionId), answers))
      if (mayAsk.has(property)) row[`property.${property}`] = value
  }
  for (const { leadId, pages, visits } of read) {
    const row = rows.get(leadId)!
    row['did.page'] = pages
    row['did.visit'] = visits
  }
  return until.map(u => rows.get(u.lead)!)
}

/** Who did nothing of a kind did it no times. */
function fillDeeds(rows: Row[]): void {
  const deeds = new Set(rows.flatMap(row => Object.keys(row).filter(name => name.startsWith('did.'))))
  for (const row of rows) for (const name of deeds) row[name] ??= 0
}

/** The latest leads as rows, by all that is known today, with their fit: by them the lines of labels are drawn. */
export async function rowsToday(sql: Sql, ruleset: Ruleset, now: number): Promise<{ row: Row; fit: number }[]> {
  const latest = await latestFits(sql, MOST_LINES)
  const rows: Row[] = []
  for (let at = 0; at < latest.length; at += AT_ONCE) {
    const until = latest.slice(at, at + AT_ONCE).map(l => ({ lead: l.id, at: new Date(now) }))
    rows.push(...(await rowsOfSome(sql, ruleset, until, false)))
  }
  fillDeeds(rows)
  return rows.map((row, i) => ({ row, fit: latest[i]!.fit }))
}

/** What answers fill. */
function valuesOf(definition: PointDefinition | undefined, answers: Record<string, unknown>): [string, unknown][] {
  return (definition?.questions ?? []).flatMap(q =>
    q.property && Object.hasOwn(answers, q.key) ? [[q.property, answers[q.key]] as [string, unknown]] : [],
  )
}

/** The card that scored then, on the same people. */
export function comparedWith(scores: number[], outcome: number[]): ComparedCard | undefined {
  const area = rocArea(scores, outcome)
  return area
    ? { auc: area.area, aucRange: [area.low, area.high], topShare: gains(scores, outcome, [0.05, 0.1, 0.2, 0.3, 0.5]) }
    : undefined
}
