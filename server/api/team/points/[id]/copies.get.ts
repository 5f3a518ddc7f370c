import { defineEventHandler } from 'h3'
import type { CopyView } from '#core/team'
import { copiesOf } from '#db/points'
import { requirePoint } from '#server/capture/editing'
import { database } from '#server/database'
import { memberOf } from '#server/session'

const DAYS = 90

/** Where a point's entries of the last months came from; plain copies that ask an old edition are stale. */
export default defineEventHandler(async (event): Promise<CopyView[]> => {
  await memberOf(event)
  const point = await requirePoint(event)
  const rows = await copiesOf(database(), point.id, new Date(Date.now() - DAYS * 86_400_000))
  return rows.map(r => ({ ...r, lastAt: r.lastAt.toISOString(), stale: r.via === 'plain' && r.edition < (point.live?.number ?? 0) }))
})
