import { defineEventHandler, sendNoContent } from 'h3'
import { readEvents } from '#core/trail/events'
import { sourceOf } from '#core/trail/visits'
import { check } from '#core/validate'
import type { TrailBatch } from '#db/trail'
import { readUtm } from '#server/capture/receive'
import { spokenTo } from '#server/chat/spoken'
import { limit } from '#server/limits'
import { problem } from '#server/problem'
import { agentOf } from '#server/trail/agent'
import { browserId } from '#server/trail/browser'
import { trailContext } from '#server/trail/context'
import { placeOf } from '#server/trail/place'
import { isOurOrigin } from '#server/hosts'
import { pointsNamed, TrailBody } from '#server/trail/take'
import { header, parseJson, readText, sender } from '#server/wire'

/** A body and its many events apart: those are read by themselves, and one that does not fit costs only itself. */
function apart(body: unknown): { plain: unknown; events: unknown[] } {
  const batches = (body as { batches?: unknown } | null)?.batches
  if (!Array.isArray(batches)) return { plain: body, events: [] }
  return {
    plain: {
      ...(body as object),
      batches: batches.map(b => (b && typeof b === 'object' && Array.isArray(b.events) ? { ...b, events: [] } : b)),
    },
    events: batches.map(b => (b as { events?: unknown } | null)?.events),
  }
}

/** What a visitor did. Sent as plain text, so that browsers need not ask first. 204 means that it is on disk. */
export default defineEventHandler(async event => {
  await limit(event, 'views')
  const { plain, events } = apart(parseJson(await readText(event)))
  const { value, flaws } = check(TrailBody, plain)
  if (!value) throw problem(422, 'Some fields are wrong; see the list.', flaws)
  const { origins } = await trailContext().settings()
  const from = header(event, 'origin')
  if (origins.length && from && !origins.includes(from) && !(await isOurOrigin(from)))
    throw problem(
      403,
      'This site is not among those whose visitors are followed. Whoever looks after Cavlin can add it under Settings, The site.',
    )
  const now = Date.now()
  const browser = {
    visitor: browserId(value.visitor),
    site: new URL(value.site).origin,
    language: /^[a-zA-Z]{2,3}(-[a-zA-Z0-9]{2,8})*$/.test(value.language ?? '') ? value.language! : null,
    place: placeOf(sender(event)),
    ...agentOf(header(event, 'user-agent') ?? ''),
  }
  const batches = value.batches
    .map(({ id, visit, referrer, utm: raw }, i): TrailBatch => {
      const { utm } = readUtm(raw ?? {})
      const from = referrer?.split(/[?#]/)[0]!.slice(0, 2000) || null
      return {
        id,
        visit: { id: visit, ...browser, referrer: from, utm, source: sourceOf(from, utm) },
        events: readEvents(events[i], value.sent, now),
      }
    })
    .filter(b => b.events.length)
  if (batches.length) await trailContext().take({ batches, points: pointsNamed(batches.flatMap(b => b.events)) })
  // One of us may have spoken to them: their window comes for it.
  const spoken = await spokenTo(browser.visitor)
  return spoken ? { spoken } : sendNoContent(event)
})
