import { defineEventHandler, getQuery } from 'h3'
import type { SquareView } from '#core/team'
import { spots, stoodAt } from '#db/reports'
import { applicationContext } from '#server/application-context'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

/** So many are drawn; a house with more has its list. */
const MOST = 50_000
const DAY = 86_400_000

/** Where the open leads stand; with `?since=7` also where they stood so many days ago. */
export default defineEventHandler(async (event): Promise<SquareView> => {
  await memberOf(event)
  const { since } = getQuery(event)
  const days = since === undefined ? null : Number(since)
  if (days !== null && !(Number.isInteger(days) && days >= 1 && days <= 90))
    throw problem(400, '`since` takes a number of days from 1 to 90.')
  const { sql, cache } = applicationContext()
  const labels = (await cache.ruleset()).labelOrder
  const found = await spots(sql, MOST + 1)
  const rows = found.slice(0, MOST)
  const was =
    days === null
      ? null
      : new Map(
          (
            await stoodAt(
              sql,
              rows.map(r => r.id),
              new Date(Date.now() - days * DAY),
            )
          ).map(r => [r.id, r]),
        )
  return {
    labels,
    isCut: found.length > MOST,
    ids: rows.map(r => r.id),
    fit: rows.map(r => r.fit),
    interest: rows.map(r => r.interest),
    label: rows.map(r => (r.label === null ? -1 : labels.indexOf(r.label))),
    before: was && rows.map(({ id }) => (was.has(id) ? [was.get(id)!.fit, was.get(id)!.interest] : null)),
  }
})
