import { defineEventHandler, getQuery } from 'h3'
import { HEAPS, type DeliveriesView, type Heap } from '#core/deliveries/delivery'
import { database } from '#server/database'
import { deliveriesView } from '#server/deliveries/view'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

/** Whether a moment is one that the calendar has: JavaScript lets 30 February be 2 March, and the database does not. */
const isMoment = (at: string): boolean =>
  at > '0001' && !Number.isNaN(Date.parse(at)) && new Date(at).toISOString().slice(0, 19) === at.slice(0, 19)
const PLACE = /^(\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}\.\d{1,6}Z) ([0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12})$/

/** What left the house, what waits, and what does not get through; and how the work in the background goes. */
export default defineEventHandler(async (event): Promise<DeliveriesView> => {
  await memberOf(event, 'manage deliveries')
  const { heap = 'held up', behind } = getQuery(event)
  if (!HEAPS.includes(heap as Heap))
    throw problem(422, 'The query cannot be read; see the list.', [{ field: 'heap', message: `Ask for one of ${HEAPS.join(', ')}.` }])
  const [, at, id] = typeof behind === 'string' ? (PLACE.exec(behind) ?? []) : []
  if (behind !== undefined && (!at || !isMoment(at)))
    throw problem(422, 'The query cannot be read; see the list.', [
      { field: 'behind', message: 'Send what the answer before named as “more”.' },
    ])
  return deliveriesView(database(), heap as Heap, at ? { at, id: id! } : null, Date.now())
})
