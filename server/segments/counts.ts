import { expanded, type Segment } from '#core/segments/segment'
import type { Sql } from '#db/client'
import { countFor } from '#db/segments'

/** A count is kept for at least so long, and for so many times what it took: a large trail is not read over and over. */
const KEPT_MS = 1_000
const KEPT_TIMES = 20

const kept = new Map<string, { condition: string; leads: number; until: number }>()

/** How many leads are in each segment, some seconds old at most where counting takes long. One after the other: somebody else waits for the database, too. */
export async function countsOf(sql: Sql, all: Segment[]): Promise<Map<string, number>> {
  const described = new Map(all.map(s => [s.id, s.condition]))
  const counts = new Map<string, number>()
  for (const s of all) {
    const whole = expanded(s.condition, described)
    const condition = JSON.stringify(whole)
    let count = kept.get(s.id)
    if (!count || count.condition !== condition || count.until < Date.now()) {
      const began = Date.now()
      const leads = await countFor(sql, whole, began)
      const now = Date.now()
      kept.set(s.id, (count = { condition, leads, until: now + Math.max(KEPT_MS, KEPT_TIMES * (now - began)) }))
    }
    counts.set(s.id, count.leads)
  }
  for (const id of kept.keys()) if (!described.has(id)) kept.delete(id)
  return counts
}
