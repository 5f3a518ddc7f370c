import { stateOf, type DeliveriesView, type DeliveryView, type Heap } from '#core/deliveries/delivery'
import type { Sql } from '#db/client'
import { deliveriesOn, heapCounts, lastTries, type DeliveryRow } from '#db/deliveries'
import { lastRuns } from '#db/jobs'
import { secondsSinceBeat } from '#db/pulse'
import { LONG_S, longTransactions } from '#db/stream'
import { TASKS } from '#server/jobs/tasks'

const PAGE = 50
/** A page of a heap of deliveries, and how the work in the background goes. */
export async function deliveriesView(
  sql: Sql,
  heap: Heap,
  behind: { at: string; id: string } | null,
  now: number,
): Promise<DeliveriesView> {
  const [rows, counts, last, workerS, long, runs] = await Promise.all([
    deliveriesOn(sql, heap, behind, PAGE + 1),
    heapCounts(sql),
    lastTries(sql),
    secondsSinceBeat(sql, 'worker'),
    longTransactions(sql, LONG_S),
    lastRuns(sql, Object.keys(TASKS)),
  ])
  return {
    counts,
    workerS,
    deliveries: rows.slice(0, PAGE).map(row => viewOf(row, now)),
    more: rows.length > PAGE ? rows[PAGE - 1]!.place : null,
    last: {
      sent: last.sent && { at: last.sent.at.toISOString(), tookMs: last.sent.tookMs },
      failed: last.failed && { ...last.failed, at: last.failed.at.toISOString() },
    },
    long: long.filter(t => t.holds).map(t => ({ seconds: t.seconds, program: t.program, database: t.database ?? '' })),
    tasks: Object.entries(TASKS).map(([key, { says: name }]) => {
      const run = runs.find(r => r.name === key)
      return { name, at: run?.at.toISOString() ?? null, problem: run?.problem ?? null }
    }),
  }
}

const iso = (at: Date | null) => at && at.toISOString()
const ms = (at: Date | null) => at && at.getTime()

function viewOf(row: DeliveryRow, now: number): DeliveryView {
  const state = stateOf(
    {
      channel: row.channel,
      sentAt: ms(row.sentAt),
      dropped: row.dropped,
      leasedUntil: ms(row.leasedUntil),
      dueAt: ms(row.dueAt),
      tries: row.tries,
    },
    now,
  )
  const { id, kind, recipient, recipientName, subject, leadId, tries, failure, answer, tookMs, dropped } = row
  return {
    id,
    kind,
    state,
    recipient: recipient ?? '',
    recipientName,
    subject,
    leadId,
    tries,
    failure,
    answer,
    tookMs,
    dropped,
    at: row.at.toISOString(),
    dueAt: iso(row.dueAt),
    sentAt: iso(row.sentAt),
    triedAt: iso(row.triedAt),
  }
}
