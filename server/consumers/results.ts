import type { Corrected } from '#core/events/kinds/corrected'
import { summed } from '#core/figures/deltas'
import { answersBefore, deltasOfCorrection, deltasOfEntry, type ResultDelta } from '#core/results/counts'
import type { Db, Sql, Tx } from '#db/client'
import { addResults, correctionsOf, entriesToCount, questionsOf } from '#db/results'
import type { StreamEvent } from '#db/stream'
import { countUp, readCounted, type RollUp } from '#server/consumers/roll-up'
import { ownAddress } from '#server/settings'

/** The results of points, as entries come and are corrected. */
const RESULTS: RollUp<ResultDelta> = { name: 'results', table: 'result_count', defined: 2, changes, add: addResults }

/** What events change of results. */
async function changes(tx: Db, events: StreamEvent[], zone: string): Promise<ResultDelta[]> {
  const told: { id: string; corrected: Corrected | null }[] = []
  for (const { changes } of events) {
    if (changes.entry) told.push({ id: changes.entry.entry, corrected: null })
    else if (changes.corrected) told.push({ id: changes.corrected.entry, corrected: changes.corrected })
  }
  if (!told.length) return []
  const found = await entriesToCount(tx, [...new Set(told.map(t => t.id))], { zone, home: ownAddress() })
  const entries = new Map(found.map(e => [e.id, e]))
  const mended = found.flatMap(e => (e.isCorrected ? [e.id] : []))
  const editions = found.map(e => e.editionId)
  const [asked, corrections] = await Promise.all([questionsOf(tx, editions), mended.length ? correctionsOf(tx, mended) : []])

  const deltas = told.flatMap(({ id, corrected }) => {
    const entry = entries.get(id)
    if (!entry) return []
    const questions = asked.get(entry.editionId) ?? []
    if (corrected) return deltasOfCorrection(entry, questions, corrected.answers)
    // Counted as it came: what was corrected since comes with its own event.
    const later = corrections.filter(c => c.entry === id).map(c => c.answers)
    return deltasOfEntry({ ...entry, answers: answersBefore(entry.answers, later) }, questions)
  })
  return summed(deltas)
}

/** Counts what happened since. @returns how many events it took */
export const countResults = (sql: Sql, zone: string, most?: number): Promise<number> => countUp(sql, RESULTS, zone, most)

/** Reads what is counted of a point, and what has happened to it since, of one moment. */
export async function withResults<T>(sql: Sql, zone: string, point: string, read: (tx: Tx) => Promise<T>) {
  const counted = await readCounted(sql, RESULTS, zone, read)
  return { ...counted, pending: counted.pending.filter(d => d.point === point) }
}
