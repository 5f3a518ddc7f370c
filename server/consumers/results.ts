import { answersBefore, deltasOfCorrection, deltasOfEntry, summedResults, type ResultDelta } from '#core/results/counts'
import type { Corrected } from '#core/events/kinds/corrected'
import type { Db, Sql, Tx } from '#db/client'
import { eventsSince, inSnapshot, madeForOf } from '#db/figures'
import { addResults, beginResultsAnew, correctionsOf, entriesToCount, questionsOf } from '#db/results'
import { lockPlace, type StreamEvent } from '#db/stream'
import { follow } from '#server/consumers/follow'
import { ownAddress } from '#server/settings'

/** Counts the results of points as entries come and are corrected: a follower of the stream, which adds up and needs no order. */
const NAME = 'results'
/** Raised when results are defined otherwise: they are counted anew then. */
const DEFINED = 1
const madeFor = (zone: string) => `${DEFINED} ${zone}`

/** What events change of results. */
async function changes(tx: Db, events: StreamEvent[], zone: string): Promise<ResultDelta[]> {
  const told: { id: string; corrected: Corrected | null }[] = []
  for (const {
    changes: { entry, corrected },
  } of events) {
    if (entry) told.push({ id: entry.entry, corrected: null })
    else if (corrected) told.push({ id: corrected.entry, corrected })
  }
  if (!told.length) return []
  const entries = new Map((await entriesToCount(tx, [...new Set(told.map(t => t.id))], { zone, home: ownAddress() })).map(e => [e.id, e]))
  const found = [...entries.values()]
  const mended = found.flatMap(e => (e.isCorrected ? [e.id] : []))
  const [asked, corrections] = await Promise.all([
    questionsOf(
      tx,
      found.map(e => e.editionId),
    ),
    mended.length ? correctionsOf(tx, mended) : [],
  ])
  return summedResults(
    told.flatMap(({ id, corrected }) => {
      const entry = entries.get(id)
      if (!entry) return []
      const questions = asked.get(entry.editionId) ?? []
      if (corrected) return deltasOfCorrection(entry, questions, corrected.answers)
      // Counted as it came: what was corrected since comes with its own event.
      const answers = answersBefore(
        entry.answers,
        corrections.filter(c => c.entry === id).map(c => c.answers),
      )
      return deltasOfEntry({ ...entry, answers }, questions)
    }),
  )
}

/** Counts what happened since. @returns how many events it took */
export async function countResults(sql: Sql, zone: string, most = 1000): Promise<number> {
  await sql.begin(async tx => {
    await lockPlace(tx, NAME)
    await beginResultsAnew(tx, NAME, madeFor(zone))
  })
  return await follow(
    sql,
    { name: NAME, inOrder: false, take: async (tx, events) => await addResults(tx, await changes(tx, events, zone)) },
    most,
  )
}

/** So many events are counted while somebody waits for results. */
const MOST_PENDING = 20_000

/**
 * Reads results in one snapshot: whatever is counted, and what has happened to a point since. `behind`: too much has happened that
 * is not counted yet.
 */
export async function withResults<T>(
  sql: Sql,
  zone: string,
  point: string,
  read: (tx: Tx) => Promise<T>,
): Promise<{ read: T; pending: ResultDelta[]; behind: boolean }> {
  return await inSnapshot(sql, async tx => {
    const [countedFor, events, result] = await Promise.all([madeForOf(tx, NAME), eventsSince(tx, NAME, MOST_PENDING + 1), read(tx)])
    const behind = countedFor !== madeFor(zone) || events.length > MOST_PENDING
    const pending = behind ? [] : (await changes(tx, events, zone)).filter(d => d.point === point)
    return { read: result, pending, behind }
  })
}
