import { DateTime } from 'luxon'
import type { Sql } from '#db/client'
import { forgetTalks } from '#db/conversations'
import { dropParts, forgetBatches, makeParts, siteSettings } from '#db/trail'
import { dropUnsubmitted, forgetTyped, unsubmitted } from '#db/unfinished'
import { unnameOldExperiments } from '#db/variants'
import { TRAIL_LIMITS } from '#core/trail/events'

/**
 * Makes parts for the months to come, and lets go of what is older than the site's settings say. A part goes
 * as a whole, once its last day is too old; figures and scores that were worked out from it stay.
 * @returns the parts that went
 */
export async function applyRetention(sql: Sql, now: Date): Promise<string[]> {
  const today = DateTime.fromJSDate(now, { zone: 'utc' })
  await makeParts(
    sql,
    today.minus({ months: 1 }).toJSDate(),
    now,
    today.plus({ months: 1 }).toJSDate(),
    today.plus({ months: 2 }).toJSDate(),
  )
  await forgetBatches(sql, new Date(now.getTime() - 2 * TRAIL_LIMITS.late))
  const { retentionMonths } = await siteSettings(sql)
  const before = today.minus({ months: retentionMonths }).toJSDate()
  await forgetTyped(sql, before)
  await unnameOldExperiments(sql, before)
  await forgetTalks(sql, before)
  await sql.begin(async tx => dropUnsubmitted(tx, await unsubmitted(tx, before)))
  return await dropParts(sql, before)
}
