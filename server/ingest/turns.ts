import type { Step } from '#core/leads/book'
import type { Turns } from '#core/routing/turns'
import { lockTurns, turnsOf } from '#db/book'
import type { Tx } from '#db/client'

/**
 * The turns of the lanes that steps go to, locked until the transaction ends: whose go it is, is decided by one batch at a time.
 * @param rehearsed only to see what would come of it: nothing is locked
 */
export async function turnsFor(tx: Tx, steps: Pick<Step, 'lane'>[], rehearsed = false) {
  const lanes = [...new Set(steps.flatMap(s => s.lane?.key ?? []))].sort()
  const start = new Map<string, number>()
  const counts = new Map<string, Turns>(lanes.map(lane => [lane, new Map()]))
  for (const { lane, memberId, given } of lanes.length ? await (rehearsed ? turnsOf : lockTurns)(tx, lanes) : []) {
    start.set(`${lane} ${memberId}`, given)
    counts.get(lane)!.set(memberId, given)
  }
  return {
    of: (lane: string): Turns => counts.get(lane)!,
    /** The turns that were given since. */
    taken: () =>
      [...counts].flatMap(([lane, turns]) =>
        [...turns]
          .filter(([member, given]) => start.get(`${lane} ${member}`) !== given)
          .map(([member, given]) => ({ lane, member, given })),
      ),
  }
}
