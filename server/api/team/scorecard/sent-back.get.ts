import { defineEventHandler, getQuery } from 'h3'
import { SENT_BACK } from '#core/events/kinds/sent-back'
import { proportion } from '#core/stats/proportion'
import type { SentBackView } from '#core/team'
import { pointNames } from '#db/points'
import { givenSince, sentBackSince } from '#db/sent-back'
import { applicationContext } from '#server/application-context'
import { longReadings } from '#server/database'
import { wholeNumber } from '#server/follow-up/listing'
import { memberOf } from '#server/session'

const MOST = 5000

/** Who was sent back in the last days, by reason, by rule and by form, beside all who were given to somebody in that time. */
export default defineEventHandler(async (event): Promise<SentBackView> => {
  await memberOf(event)
  const days = wholeNumber(getQuery(event).days as string | undefined, 'days', 90, 1, 3650)
  const db = longReadings()
  const since = new Date(Date.now() - days * 86_400_000)
  const ruleset = await applicationContext().cache.ruleset()
  const [rows, given, names] = await Promise.all([sentBackSince(db, since, MOST), givenSince(db, since), pointNames(db)])
  const rules = new Map([...ruleset.scorecard.fit, ...ruleset.scorecard.interest].map(r => [r.key, r.name]))
  const back = (of: (row: (typeof rows)[number]) => string[]) => {
    const leads = new Map<string, Set<string>>()
    for (const row of rows) for (const key of of(row)) leads.set(key, (leads.get(key) ?? new Set()).add(row.lead))
    return leads
  }
  // Who was given before that time and sent back in it counts among those who were given.
  const lines = (of: Map<string, Set<string>>, all: Map<string, number>, name: (key: string) => string) =>
    [...of]
      .map(([key, ids]) => {
        const among = Math.max(ids.size, all.get(key) ?? 0)
        return { key, name: name(key), leads: [...ids], given: among, rate: proportion(ids.size, among) }
      })
      .sort((a, b) => b.rate.rate - a.rate.rate || b.leads.length - a.leads.length)
  const why = back(row => [row.why])
  return {
    days,
    total: new Set(rows.map(r => r.lead)).size,
    given: given.all,
    byWhy: SENT_BACK.flatMap(key => (why.has(key) ? [{ key, leads: [...why.get(key)!] }] : [])),
    byRule: lines(
      back(row => row.rules),
      given.byRule,
      key => rules.get(key) ?? `${key} (a rule that there is no more)`,
    ),
    byPoint: lines(
      back(row => (row.point ? [row.point] : [])),
      given.byPoint,
      key => names.get(key) ?? key,
    ),
  }
})
