import { defineEventHandler } from 'h3'
import { problem } from '#server/problem'
import { header } from '#server/wire'
import { ownAddress } from '#server/settings'

/**
 * What changes something for a member comes from a page of ours. Browsers say where a request was made, and nobody can make
 * them say otherwise; a program that says nothing has no member's cookie either. The open API takes keys instead.
 */
export default defineEventHandler(event => {
  const { method, path } = event
  if (method === 'GET' || method === 'HEAD' || !path.startsWith('/api/') || path.startsWith('/api/v1/')) return
  const site = header(event, 'sec-fetch-site')
  const origin = header(event, 'origin')
  if ((site === undefined || site === 'same-origin') && (origin === undefined || isOurs(origin, header(event, 'host')))) return
  throw problem(403, 'This request came from a page of another site. Nothing was changed. Open Cavlin itself and try there.')
})

function isOurs(origin: string, host: string | undefined): boolean {
  if (!URL.canParse(origin)) return false
  const url = new URL(origin)
  return url.host === host || url.origin === new URL(ownAddress() || 'http://localhost').origin
}
