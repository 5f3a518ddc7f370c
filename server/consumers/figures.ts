import { deltasOf, summed, type Delta } from '#core/figures/deltas'
import type { Facets } from '#core/figures/facets'
import type { Sql, Tx } from '#db/client'
import { addFigures, countedFigures, facetsBefore, withPending, type Sum, type Wanted } from '#db/figures'
import type { StreamEvent } from '#db/stream'
import { countUp, readCounted, type RollUp } from '#server/consumers/roll-up'

/** The house's figures. */
const FIGURES: RollUp<Delta> = {
  name: 'figures',
  table: 'rollup',
  defined: 1,
  async changes(tx, events, zone) {
    const before = await facetsBefore(tx, events)
    return summed(events.flatMap((event, i) => deltasOf(event, before[i]!, after(event, before[i]!), zone)))
  },
  add: addFigures,
}

/** Behind these a lead is not counted any more. */
const LASTS = new Set(['erased', 'merged_into'])
/** An event that does not say how the lead is counted since leaves it as it was, but for the last one. */
const after = (event: StreamEvent, before: Facets | null): Facets | null => event.facets ?? (LASTS.has(event.cause) ? null : before)

/** Counts what happened since. @returns how many events it took */
export const countFigures = (sql: Sql, zone: string, most?: number): Promise<number> => countUp(sql, FIGURES, zone, most)

/**
 * Figures with all that has happened, counted or not, in the order in which they are wanted, and whatever else belongs to the same
 * moment. `behind`: too much has happened that is not counted yet; they are those of some time ago.
 */
export async function readFigures<T>(
  sql: Sql,
  zone: string,
  wanted: Wanted[],
  more: (tx: Tx) => Promise<T>,
): Promise<{ sums: Sum[][]; behind: boolean; more: T }> {
  const { read, pending, behind } = await readCounted(sql, FIGURES, zone, tx => Promise.all([countedFigures(tx, wanted), more(tx)]))
  return { sums: withPending(read[0], pending, wanted), behind, more: read[1] }
}
