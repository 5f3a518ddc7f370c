import type { Sql, Tx } from '#db/client'
import { eventsBehind, keepAhead, keepPlace, lockPlace, takenAhead, turnedRound, type StreamEvent } from '#db/stream'

/** Somebody who follows what happens to leads. What it does stands or falls with its place in the stream: nothing is skipped, nothing taken twice. */
export interface Consumer {
  name: string
  /** It needs a lead's events in the order in which they happened; what only adds up needs none. */
  inOrder: boolean
  take: (tx: Tx, events: StreamEvent[]) => Promise<void>
}

/**
 * Takes the next events for a consumer, in one transaction. Several processes may call it at once: one works, the others wait.
 * @returns how many it took
 */
export async function follow(sql: Sql, consumer: Consumer, most = 500): Promise<number> {
  return await sql.begin(async tx => {
    const place = await lockPlace(tx, consumer.name)
    const events = await eventsBehind(tx, place, most)
    if (!events.length) return 0
    const { now, ahead, passed } = consumer.inOrder ? await inOrder(tx, consumer.name, events) : { now: [...events], ahead: [], passed: [] }
    if (now.length) await consumer.take(tx, now)
    await keepAhead(tx, consumer.name, ahead, passed)
    await keepPlace(tx, consumer.name, events.at(-1)!)
    return events.length
  })
}

/** Events with each lead's in their order: those that the stream turned round are fetched, and remembered until the place has passed them. */
async function inOrder(tx: Tx, consumer: string, events: StreamEvent[]) {
  const keyOf = (e: StreamEvent) => `${e.lead} ${e.version}`
  const late = await turnedRound(tx, events)
  const done = await takenAhead(tx, consumer, [...events, ...late])
  const now: StreamEvent[] = []
  const taken = new Set(done)
  const take = (event: StreamEvent) => {
    if (taken.has(keyOf(event))) return
    taken.add(keyOf(event))
    now.push(event)
  }
  for (const event of events) {
    for (const { before, ...predecessor } of late) if (predecessor.lead === event.lead && before === event.version) take(predecessor)
    take(event)
  }
  const own = new Set(events.map(keyOf))
  return { now, ahead: now.filter(e => !own.has(keyOf(e))), passed: events.filter(e => done.has(keyOf(e))) }
}
