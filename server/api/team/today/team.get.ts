import { defineEventHandler } from 'h3'
import { DateTime } from 'luxon'
import { promised } from '#core/follow-up/promise'
import { keptOf, loadsBy } from '#core/follow-up/team'
import { may } from '#core/roles'
import { isAway } from '#core/routing/colleagues'
import { workingMinutes } from '#core/working-time'
import type { TeamTodayView } from '#core/team'
import { allWaiting, answeredSince, lateSteps, openByOwner, untouchedSince } from '#db/team-today'
import { applicationContext } from '#server/application-context'
import { memberOf } from '#server/session'

const MOST = 5000
const WEEK_DAYS = 7
/** Nobody has touched them for so many days. */
const UNTOUCHED_DAYS = 3

/** The team as who manages sees it: who is over their limit, what is overdue by person and lane, what nobody touched, and how promises were kept. */
export default defineEventHandler(async (event): Promise<TeamTodayView> => {
  await memberOf(event, 'edit plan')
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const now = Date.now()
  const from = DateTime.fromMillis(now, { zone: ruleset.house.zone })
    .startOf('day')
    .minus({ days: WEEK_DAYS - 1 })
  const [waits, answered, late, open, untouched] = await Promise.all([
    allWaiting(sql, MOST),
    answeredSince(sql, from.toJSDate(), MOST),
    lateSteps(sql, new Date(now), MOST),
    openByOwner(sql),
    untouchedSince(sql, new Date(now - UNTOUCHED_DAYS * 86_400_000)),
  ])
  const hoursOf = (owner: string | null) => (owner !== null && ruleset.members.get(owner)?.hours) || ruleset.house.hours
  const promisedTo = (label: string | null, lane: string | null) => promised(ruleset, label, lane)
  const waiting = waits.map(w => ({
    ...w,
    isOverdue: workingMinutes(w.since.getTime(), now, hoursOf(w.owner)) >= promisedTo(w.label, w.lane),
  }))
  const answers = [...answered.map(a => ({ ...a, at: a.at.getTime() as number | null })), ...waits.map(w => ({ ...w, at: null }))].map(
    a => ({ ...a, since: a.since.getTime() }),
  )
  const able = [...ruleset.members.values()].filter(m => may(m.role, 'work leads'))
  const openOf = new Map(open.map(o => [o.member, o.open]))
  const sums = loadsBy(
    { plan: ruleset.plan, members: able.map(m => ({ id: m.id, open: openOf.get(m.id) ?? 0, mostOpen: m.mostOpen })) },
    waiting,
    [...late],
    keptOf(answers, promisedTo, hoursOf, now),
  )
  return {
    since: from.toISODate()!,
    ...sums,
    // What nobody looks after: of leavers, of who is away with nobody standing in, of nobody.
    orphans: open
      .filter(o => o.member !== null && o.active === false)
      .map(o => ({ member: o.member!, name: o.name ?? 'Somebody', open: o.open })),
    away: able
      .filter(m => isAway(m, now))
      .map(m => ({
        member: m.id,
        standIn: m.absences.find(a => a.from <= now && now < a.until)!.standIn,
        until: new Date(m.absences.find(a => a.from <= now && now < a.until)!.until).toISOString(),
      })),
    unowned: openOf.get(null) ?? 0,
    untouched: untouched.map(u => u.lead),
    untouchedDays: UNTOUCHED_DAYS,
  }
})
