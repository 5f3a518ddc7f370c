import { sendNoContent, type EventHandler, type H3Event } from 'h3'
import { openToSites } from '#server/open-to-sites'

/** What visitors' browsers send: entries, trails, what was typed. */
const isSent = (event: H3Event) => event.method === 'POST' && event.path.startsWith('/w/') && !event.path.includes('%')

/**
 * Leads what visitors' browsers send straight to its route. It is spared what Nitro and h3 prepare for each request:
 * ways to fetch from within, hooks (nobody has any), the comparing of its address with all route rules (which are for
 * files) and with each layer, and a turn of the event loop for each answer. That was some 15% of what an entry costs the
 * application, and what it left behind was not collected for long (docs/decisions/0026). What goes wrong is answered as ever.
 * @param routes Nitro's router
 * @param through the way that all else takes
 */
export function straightened(routes: EventHandler, through: EventHandler): EventHandler {
  const straight = async (event: H3Event) => {
    // What is not for a route of ours, Nuxt may look at.
    event.context.nitro = { errors: [] }
    openToSites(event)
    const answer: unknown = await routes(event)
    if (event.handled) return
    if (answer === null) return sendNoContent(event)
    const { res } = event.node
    if (typeof answer === 'string') return void res.end(answer)
    res.setHeader('content-type', 'application/json')
    res.end(JSON.stringify(answer))
  }
  return ((event: H3Event) => (isSent(event) ? straight(event) : through(event))) as EventHandler
}
