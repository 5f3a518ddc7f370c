import type { H3Event } from 'h3'
import { defineNitroPlugin } from 'nitropack/runtime'

/** What visitors' browsers send: entries, trails, what was typed. */
const isSent = (event: H3Event) => event.method === 'POST' && event.path.startsWith('/w/')

/**
 * Spares what visitors' browsers send what Nitro prepares for each request: ways to fetch from within, hooks (nobody has
 * any), and the comparing of its address with all route rules (which are for files). That took a good tenth of what
 * an entry costs the application, and what it leaves behind is not collected for long (docs/decisions/0026). What goes wrong
 * is answered as ever.
 */
export default defineNitroPlugin(({ h3App: { options } }) => {
  const { onRequest, onBeforeResponse, onAfterResponse } = options
  options.onRequest = (event) => {
    if (!isSent(event)) return onRequest?.(event)
    event.context.nitro = { errors: [] }
    event.context._nitro = { routeRules: {} }
  }
  options.onBeforeResponse = (event, response) => isSent(event) ? undefined : onBeforeResponse?.(event, response)
  options.onAfterResponse = (event, response) => isSent(event) ? undefined : onAfterResponse?.(event, response)
})
