import { subscribe, unsubscribe } from 'node:diagnostics_channel'
import type { Server } from 'node:http'
import { defineNitroPlugin } from 'nitropack/runtime'

/**
 * Longer than whatever speaks to us keeps a quiet connection: who ends first decides whether the other one's next request is lost.
 * Node's own five seconds are shorter than most proxies' minute.
 */
const QUIET_MS = 75_000
const STARTS = 'http.server.request.start'

/** Keeps quiet connections open. The server is not ours to make: we meet it with its first request. */
export default defineNitroPlugin(() => {
  const keep = (message: unknown) => {
    ;(message as { server: Server }).server.keepAliveTimeout = QUIET_MS
    unsubscribe(STARTS, keep)
  }
  subscribe(STARTS, keep)
})
