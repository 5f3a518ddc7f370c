import { defineEventHandler, sendNoContent, setResponseHeaders } from 'h3'
import { openToSites } from '#server/open-to-sites'

/** What stands under /w/ is called from customers' pages. */
export default defineEventHandler(event => {
  if (!event.path.startsWith('/w/')) return
  openToSites(event)
  if (event.method !== 'OPTIONS') return
  setResponseHeaders(event, {
    'access-control-allow-methods': 'GET, POST, OPTIONS',
    'access-control-allow-headers': 'content-type, idempotency-key',
    'access-control-max-age': 86_400,
  })
  return sendNoContent(event)
})
