import type { Step } from '#core/leads/book'
import { firmOf } from '#core/routing/firm'
import type { Desks } from '#core/routing/choose'
import type { Colleagues } from '#core/routing/colleagues'
import type { Credits } from '#core/routing/turns'
import { earlierOwners, firmOwners, lockMembers, lockTurns, openOf, turnsOf } from '#db/book'
import type { Tx } from '#db/client'

/** Where leads are given, and the turns as they are since. */
export interface OpenDesks extends Desks {
  taken: () => { lane: string; member: string; given: number; credit: number; got: boolean }[]
}

/**
 * Opens the desks of the lanes that steps may go to; they are locked until the transaction ends: whose go it is, is decided by one
 * batch at a time. So are the people of whom open leads are counted.
 * @param rehearsed only to see what would come of it: nothing is locked
 */
export async function desksFor(tx: Tx, steps: Pick<Step, 'lanes' | 'lead'>[], people: Colleagues, rehearsed = false): Promise<OpenDesks> {
  const lanes = new Map(steps.flatMap(s => s.lanes ?? []).map(lane => [lane.key, lane]))
  const keys = [...lanes.keys()].sort()
  const rows = keys.length ? await (rehearsed ? turnsOf : lockTurns)(tx, keys) : []
  const by = (way: string) => steps.filter(s => s.lanes?.some(lane => lane.way === way))
  const [firms, before] = [by('firm_owner').map(s => firmOf(s.lead)), by('earlier_owner').map(s => s.lead.id)]
  const [ofFirms, earlier] = await Promise.all([firms.length ? firmOwners(tx, firms) : [], before.length ? earlierOwners(tx, before) : []])
  const found = [...ofFirms, ...earlier].map(r => r.ownerId)
  const counts = [...lanes.values()].some(lane => lane.way === 'least_open') || [...people.values()].some(c => c.mostOpen !== null)
  const asked = [...[...lanes.values()].flatMap(l => l.pool.map(s => s.member)), ...found, ...standIns(people)]
  // Of who is nobody here, or has left, nothing is counted.
  const counted = counts && keys.length ? [...new Set(asked)].filter(id => people.has(id)).sort() : []
  if (counted.length && !rehearsed) await lockMembers(tx, counted)
  const open = new Map((counted.length ? await openOf(tx, counted) : []).map(r => [r.memberId, r.open]))

  const given = new Map(rows.map(r => [`${r.lane} ${r.memberId}`, r.given]))
  const got = new Set<string>()
  const credits = new Map<string, Credits>(
    keys.map(key => [key, new Map(rows.filter(r => r.lane === key).map(r => [r.memberId, r.credit]))]),
  )
  const start = new Map(rows.map(r => [`${r.lane} ${r.memberId}`, r.credit]))
  const ownersOf = (all: readonly { lead: string; ownerId: string }[], lead: string) => [
    ...new Set(all.filter(r => r.lead === lead).map(r => r.ownerId)),
  ]
  return {
    of: lead => ({
      credits: key => credits.get(key)!,
      open: member => open.get(member) ?? 0,
      firmOwners: () => ownersOf(ofFirms, lead),
      earlierOwners: () => ownersOf(earlier, lead),
    }),
    gave(lane, member) {
      const seat = `${lane} ${member}`
      open.set(member, (open.get(member) ?? 0) + 1)
      given.set(seat, (given.get(seat) ?? 0) + 1)
      const all = credits.get(lane)!
      all.set(member, all.get(member) ?? 0)
      got.add(seat)
    },
    taken: () =>
      [...credits].flatMap(([lane, all]) =>
        [...all].flatMap(([member, credit]) => {
          const seat = `${lane} ${member}`
          return got.has(seat) || start.get(seat) !== credit
            ? [{ lane, member, given: given.get(seat) ?? 0, credit, got: got.has(seat) }]
            : []
        }),
      ),
  }
}

const standIns = (people: Colleagues) => [...people.values()].flatMap(c => c.absences.flatMap(a => a.standIn ?? []))
