import { setResponseHeaders, defineEventHandler, sendNoContent } from 'h3'

/** What stands under /w/ is called from customers' pages, on any origin; it uses no cookies. */
export default defineEventHandler((event) => {
  if (!event.path.startsWith('/w/')) return
  setResponseHeaders(event, { 'access-control-allow-origin': '*', 'access-control-expose-headers': 'retry-after', 'cross-origin-resource-policy': 'cross-origin' })
  if (event.method !== 'OPTIONS') return
  setResponseHeaders(event, { 'access-control-allow-methods': 'GET, POST, OPTIONS', 'access-control-allow-headers': 'content-type, idempotency-key', 'access-control-max-age': 86_400 })
  return sendNoContent(event)
})
