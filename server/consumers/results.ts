import type { Corrected } from '#core/events/kinds/corrected'
import { summed } from '#core/figures/deltas'
import { answersBefore, deltasOfCorrection, deltasOfEntry, type ResultDelta } from '#core/results/counts'
import type { Db, Sql, Tx } from '#db/client'
import { namelessCounted, recountNameless } from '#db/nameless'
import { addResults, correctionsOf, entriesToCount, namelessToCount, questionsOf } from '#db/results'
import { lockPlace, type StreamEvent } from '#db/stream'
import { countUp, readCounted, type RollUp } from '#server/consumers/roll-up'
import { ownAddress } from '#server/settings'

/** The results of points, as entries come and are corrected. */
const RESULTS: RollUp<ResultDelta> = { name: 'results', table: 'result_count', defined: 3, changes, add: addResults, anew: recountNameless }

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

/** So many nameless ones are counted in one go. */
const MOST_NAMELESS = 500

/** What nameless ones change of them, which are in no event: each is counted once, and no more once it became an entry. */
async function changesOfNameless(tx: Db, found: Awaited<ReturnType<typeof namelessToCount>>): Promise<ResultDelta[]> {
  const asked = await questionsOf(
    tx,
    found.map(n => n.editionId),
  )
  return summed(
    found.flatMap(n => {
      const by = Number(!n.hasEntry) - Number(n.wasCounted)
      return deltasOfEntry(n, asked.get(n.editionId) ?? [], 'nameless').map(d => ({ ...d, n: d.n * by }))
    }),
  )
}

/** Counts what happened since. @returns how many events, and nameless ones, it took */
export async function countResults(sql: Sql, zone: string, most?: number): Promise<number> {
  const events = await countUp(sql, RESULTS, zone, most)
  const nameless = await sql.begin(async tx => {
    await lockPlace(tx, RESULTS.name)
    const found = await namelessToCount(
      tx,
      { zone, home: ownAddress() },
      { most: Math.min(most ?? MOST_NAMELESS, MOST_NAMELESS), locked: true },
    )
    if (!found.length) return 0
    await addResults(tx, await changesOfNameless(tx, found))
    await namelessCounted(tx, found)
    return found.length
  })
  return events + nameless
}

/** Reads what is counted of a point, and what has happened to it since, of one moment. */
export async function withResults<T>(sql: Sql, zone: string, point: string, read: (tx: Tx) => Promise<T>) {
  const counted = await readCounted(sql, RESULTS, zone, async tx => {
    const [result, nameless] = await Promise.all([read(tx), namelessToCount(tx, { zone, home: ownAddress() }, { point })])
    return { result, since: await changesOfNameless(tx, nameless) }
  })
  const { result, since } = counted.read
  return { read: result, behind: counted.behind, pending: [...counted.pending, ...since].filter(d => d.point === point) }
}
