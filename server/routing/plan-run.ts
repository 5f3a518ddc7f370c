import { setImmediate as pause } from 'node:timers/promises'
import { dayText } from '#core/calendar-days'
import type { Condition } from '#core/conditions/condition'
import { promised } from '#core/follow-up/promise'
import type { About } from '#core/leads/attributes/attribute'
import { judgeLead } from '#core/leads/about'
import type { Beside } from '#core/leads/beside'
import { asksForScore, needsNothing, needsOf, nothingBeside } from '#core/leads/needs'
import { FEWEST_ANSWERS, runPlan, sumsOf, type Assumed, type Gave, type PastLead } from '#core/routing/dry-run'
import { may } from '#core/roles'
import { readPlan, type RoutingPlan } from '#core/routing/plan'
import { expanded } from '#core/segments/segment'
import { isOpen } from '#core/vocabulary'
import { workingMinutes } from '#core/working-time'
import { besideLeads } from '#db/beside'
import type { Sql } from '#db/client'
import {
  beatPlanRun,
  clearPlanRun,
  endPlanRun,
  failPlanRun,
  firmsAt,
  keepGave,
  leadsToRoute,
  openAt,
  piecesToRoute,
  takePlanRun,
  type LeadToRoute,
  type PlanRunRow,
  type Stretch,
} from '#db/plan-run'
import { answeredSince } from '#db/team-today'
import { whyItFailed } from '#server/log'
import { readRuleset, type Ruleset } from '#server/ruleset'

const AT_ONCE = 2000
/** So many pieces are read ahead. */
const AHEAD = 2
const DAY = 86_400_000
/** How people answered is looked up for so long, and so many answers. */
const [PACE_DAYS, PACE_MOST] = [180, 20_000]

/**
 * Works on the run that waits, if one does; whoever fell silent is taken over from.
 * @param tell called whenever there is something new to see
 * @returns whether there was one
 */
export async function workPlanRun(sql: Sql, tell: () => void, mayGoOn: () => boolean = () => true): Promise<boolean> {
  const run = await takePlanRun(sql)
  if (!run) return false
  tell()
  try {
    await runThrough(sql, run, tell, mayGoOn)
  } catch (error) {
    await failPlanRun(sql, run.id, whyItFailed(error))
  }
  tell()
  return true
}

async function runThrough(sql: Sql, run: PlanRunRow, tell: () => void, mayGoOn: () => boolean): Promise<void> {
  const ruleset = await readRuleset(sql)
  const { plan } = readPlan(run.definition)
  if (!plan) throw new RangeError('The plan cannot be read. Take an earlier edition as the working copy.')
  const conditions = new Map<string, Condition>()
  const [live, draft] = [asApplied(ruleset.plan, ruleset, conditions), asApplied(plan, ruleset, conditions)]
  const now = run.at.getTime()
  const since = new Date(now - run.days * DAY)
  const leads = await pastLeads(sql, ruleset, [...conditions.values()], { since, until: run.at }, async (done, total) => {
    const goesOn = mayGoOn() && (await beatPlanRun(sql, run.id, done, total))
    tell()
    return goesOn
  })
  if (!leads) return
  const assumed = await assume(sql, ruleset, since, now, run.speed)
  const members = [...ruleset.members.values()].filter(m => may(m.role, 'work leads')).map(m => m.id)
  const dayOf = (at: number) => dayText(at, ruleset.house.zone)
  const through = async (p: RoutingPlan): Promise<Gave[]> => {
    const ran = runPlan(p, { ...assumed, promised: (label, lane) => promised({ plan: p, targets: ruleset.targets }, label, lane) })
    for (let from = 0; from < leads.length; from += AT_ONCE) {
      ran.send(leads.slice(from, from + AT_ONCE))
      await pause()
    }
    return ran.end()
  }
  const before = live.lanes.length ? await through(live) : []
  const sums = (p: RoutingPlan, gave: Gave[]) => sumsOf(p, gave, members, dayOf)
  await sql.begin(async tx => {
    if (!(await clearPlanRun(tx, run.id))) return
    // The database takes in what came of the one while the other is worked out.
    const [, after] = await Promise.all([keepGave(tx, 0, before), through(draft)])
    await keepGave(tx, 1, after)
    await endPlanRun(tx, run.id, { live: live.lanes.length ? sums(live, before) : null, draft: sums(draft, after) })
  })
}

/** @param conditions those that were met before, by their texts: what two plans ask alike is one condition */
const asApplied = (plan: RoutingPlan, ruleset: Ruleset, conditions: Map<string, Condition>): RoutingPlan => ({
  ...plan,
  lanes: plan.lanes.map(lane => {
    if (!lane.when) return lane
    const when = expanded(lane.when, ruleset.segments)
    const text = JSON.stringify(when)
    if (!conditions.has(text)) conditions.set(text, when)
    return { ...lane, when: conditions.get(text)! }
  }),
})

/** @param goesOn asked after each piece; false ends it @returns null where it was ended */
async function pastLeads(
  sql: Sql,
  ruleset: Ruleset,
  conditions: Condition[],
  stretch: Stretch,
  goesOn: (done: number, total: number) => Promise<boolean>,
): Promise<PastLead[] | null> {
  const needs = needsOf(conditions)
  const nothing = nothingBeside(needs)
  const all: PastLead[] = []
  const withReasons = conditions.some(asksForScore)
  const judged = judgedBy(conditions)
  const { ends, total } = await piecesToRoute(sql, stretch, AT_ONCE)
  if (!(await goesOn(0, total))) return null
  // While one piece is judged the next are read.
  const read = (n: number) => {
    const rows = leadsToRoute(sql, stretch, ends[n - 1] ?? null, ends[n]!, withReasons).execute()
    rows.catch(() => {})
    return rows
  }
  const ahead = ends.slice(0, AHEAD).map((_, n) => read(n))
  for (let n = 0; n < ends.length; n++) {
    const rows = await ahead.shift()!
    if (n + AHEAD < ends.length) ahead.push(read(n + AHEAD))
    const ids = rows.map(r => r.id)
    const beside = needsNothing(needs)
      ? new Map<string, Beside>()
      : await besideLeads(sql, sql`select unnest(${ids}::uuid[]) as id`, needs, Date.now())
    for (const row of rows) {
      const about = {
        lead: row,
        beside: beside.get(row.id) ?? nothing,
        now: row.submittedAt!,
        halfLifeDays: ruleset.scorecard.halfLifeDays,
      }
      all.push(pastLead(row, judged(about)))
    }
    if (!(await goesOn(all.length, total))) return null
  }
  return all.sort((a, b) => a.at - b.at || (a.id < b.id ? -1 : 1))
}

/** Judges each lead once by all conditions. Leads for which the same hold share the answer: of many only what routing asks is kept. */
function judgedBy(conditions: Condition[]): (about: About) => PastLead['holds'] {
  const answers = new Map<string, PastLead['holds']>()
  return about => {
    const held = conditions.filter(condition => judgeLead(condition, about).holds)
    const key = held.map(condition => conditions.indexOf(condition)).join()
    let answer = answers.get(key)
    if (!answer) {
      const all = new Set(held)
      answers.set(key, (answer = condition => all.has(condition)))
    }
    return answer
  }
}

const pastLead = (row: LeadToRoute, holds: PastLead['holds']): PastLead => ({
  id: row.id,
  at: row.submittedAt!,
  language: row.language,
  label: row.firstLabel,
  firm: row.firm,
  earlier: [],
  closedAt: isOpen(row.stage as never) ? null : row.statusAt,
  holds,
})

async function assume(sql: Sql, ruleset: Ruleset, since: Date, now: number, speed: number): Promise<Omit<Assumed, 'promised'>> {
  const [answered, open, firms] = await Promise.all([
    answeredSince(sql, new Date(now - PACE_DAYS * DAY), PACE_MOST),
    openAt(sql, since),
    firmsAt(sql, since),
  ])
  const paces = new Map<string | null, number[]>([[null, []]])
  for (const { owner, since: from, at } of answered) {
    const hours = (owner && ruleset.members.get(owner)?.hours) || ruleset.house.hours
    const minutes = workingMinutes(from.getTime(), at.getTime(), hours)
    for (const key of [owner, null]) (paces.get(key) ?? paces.set(key, []).get(key)!).push(minutes)
  }
  for (const pace of paces.values()) pace.sort((a, b) => a - b)
  return {
    people: ruleset.members,
    paces,
    speed,
    open: new Map(open.map(o => [o.member, o.open])),
    firms: new Map(firms.map(f => [f.firm, f.owners])),
    hours: ruleset.house.hours,
  }
}

/** How somebody answered in the past, for whoever reads a run: the median, of how many; of too few it is everybody's. */
export async function pacesOf(
  sql: Sql,
  ruleset: Ruleset,
  now: number,
): Promise<{ member: string | null; minutes: number; answers: number }[]> {
  const { paces } = await assume(sql, ruleset, new Date(now), now, 1)
  return [...paces]
    .filter(([member, all]) => all.length && (member === null || (all.length >= FEWEST_ANSWERS && ruleset.members.has(member))))
    .map(([member, all]) => ({ member, minutes: all[all.length >> 1]!, answers: all.length }))
}
